"""Scales."""

from django.urls import path

from . import views

app_name = "scales"
urlpatterns = [
    path("settings/scales/", views.scales, name="list"),
    path("settings/scales/new", views.tell, name="new"),
    path("settings/scales/<int:pk>", views.tell, name="edit"),
    path("scales/<int:pk>/", views.try_it, name="try"),
    path("scales/<int:pk>/now", views.now, name="now"),
    path("scales/<int:pk>/readings", views.readings, name="readings"),
    path("scales/<int:pk>/play", views.play, name="play"),
]
