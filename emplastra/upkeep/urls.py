"""Backups."""

from django.urls import path

from . import views

app_name = "upkeep"
urlpatterns = [
    path("settings/backups/", views.Keeping.as_view(), name="keeping"),
    path("settings/backups/<str:name>", views.fetch, name="backup"),
]
