"""What is measured on a face: its film, and how flat it is."""

from django.urls import path

from . import film_views, heat_views, level_views

app_name = "measure"
urlpatterns = [
    path("zones/<int:pk>/heat", heat_views.heat, name="heat"),
    path("zones/<int:pk>/level", level_views.level, name="level"),
    path("zones/<int:pk>/film", film_views.film, name="film"),
]
