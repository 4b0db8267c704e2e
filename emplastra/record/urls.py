"""Record."""

from django.urls import path

from . import views

app_name = "record"
urlpatterns = [
    path("record/", views.home, name="home"),
    path("zones/<int:pk>/record", views.zone, name="zone"),
    path("jobs/<int:pk>/record", views.job, name="job"),
    path("jobs/<int:pk>/record.json", views.job_json, name="json"),
    path("zones/<int:pk>/record/<int:entry>/accept", views.accept, name="accept"),
]
