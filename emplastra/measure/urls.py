"""What is measured on a face: its film."""

from django.urls import path

from . import film_views

app_name = "measure"
urlpatterns = [
    path("zones/<int:pk>/film", film_views.film, name="film"),
]
