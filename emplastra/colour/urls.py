"""Colour of a job: what is masked from what."""

from django.urls import path

from . import masking_views

app_name = "colour"
urlpatterns = [
    path("jobs/<int:pk>/masking", masking_views.masking, name="masking"),
]
