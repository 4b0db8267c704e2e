"""Bench, zones, search, settings."""

from django.urls import path

from . import views

app_name = "bench"
urlpatterns = [
    path("", views.home, name="home"),
    path("bench/rows", views.rows, name="rows"),
    path("windows/", views.windows, name="windows"),
    path("windows/rows", views.windows_rows, name="windows-rows"),
    path("zones/", views.zones, name="zones"),
    path("mix/", views.mix, name="mix"),
    path("log/", views.log, name="log"),
    path("more/", views.more, name="more"),
    path("search", views.search, name="search"),
    path("settings/", views.Settings.as_view(), name="settings"),
    path("settings/people/add", views.AddPerson.as_view(), name="add-person"),
    path("settings/people/<int:pk>/toggle", views.toggle_person, name="toggle-person"),
    path("settings/places/add", views.save_place, name="add-place"),
    path("settings/places/<int:pk>", views.save_place, name="edit-place"),
]
