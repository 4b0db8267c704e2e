"""Bench, jobs and zones by stage, search."""

from django.urls import path

from . import views

app_name = "bench"
urlpatterns = [
    path("", views.home, name="home"),
    path("bench/rows", views.rows, name="rows"),
    path("bench/sheet", views.sheet, name="sheet"),
    path("bench/band", views.band, name="band"),
    path("windows/", views.windows, name="windows"),
    path("windows/rows", views.windows_rows, name="windows-rows"),
    path("jobs/", views.jobs, name="jobs"),
    path("zones/", views.zones_moved),
    path("mix/", views.mix, name="mix"),
    path("log/", views.log, name="log"),
    path("more/", views.more, name="more"),
    path("help/", views.help_page, name="help"),
    path("search", views.search, name="search"),
]
