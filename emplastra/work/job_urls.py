"""Jobs and zones."""

from django.urls import path

from . import job_views as views

app_name = "jobs"
urlpatterns = [
    path("jobs/new", views.NewJob.as_view(), name="new"),
    path("jobs/<int:pk>/edit", views.EditJob.as_view(), name="edit"),
    path("jobs/<int:pk>/copy", views.CopyJob.as_view(), name="copy"),
    path("jobs/<int:pk>/file", views.file_job, name="file"),
    path("jobs/<int:pk>/delete", views.remove_job, name="remove"),
    path("jobs/<int:pk>/zones/new", views.NewZone.as_view(), name="new-zone"),
    path("zones/<int:pk>/measures", views.EditZone.as_view(), name="edit-zone"),
    path("zones/<int:pk>/delete", views.remove_zone, name="remove-zone"),
    path("shapes/row", views.shape_fragment, name="shape-row"),
    path("shapes/area", views.area, name="area"),
]
