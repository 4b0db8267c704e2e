"""Coating systems and build-ups."""

from django.urls import path

from . import apply_views, build_up_views, quantity_views, system_views, whatif_views

app_name = "plans"
urlpatterns = [
    path("systems/", system_views.system_list, name="systems"),
    path("systems/new", system_views.SystemPage.as_view(), name="new-system"),
    path("systems/take", system_views.take_ready, name="take-ready"),
    path("systems/arrange", system_views.system_arrange, name="system-arrange"),
    path("systems/look", system_views.system_look, name="system-look"),
    path("systems/<int:pk>/", system_views.system, name="system"),
    path("systems/<int:pk>/edit", system_views.SystemPage.as_view(), name="edit-system"),
    path("systems/<int:pk>/apply", apply_views.Apply.as_view(), name="apply"),
    path("systems/<int:pk>/retire", system_views.retire_system, name="retire-system"),
    path("zones/<int:pk>/plan", build_up_views.BuildUp.as_view(), name="build-up"),
    path("zones/<int:pk>/preview", build_up_views.preview, name="build-up-preview"),
    path("zones/<int:pk>/arrange", build_up_views.arrange, name="build-up-arrange"),
    path("quantities/", quantity_views.of_all, name="quantities"),
    path("jobs/<int:pk>/quantities", quantity_views.of_job, name="job-quantities"),
    path("zones/<int:pk>/quantities", quantity_views.of_zone, name="zone-quantities"),
    path("quantities/<slug:scope_name>/<int:pk>/tin", quantity_views.tin, name="tin"),
    path("jobs/<int:pk>/what-if", whatif_views.of_job, name="job-what-if"),
    path("zones/<int:pk>/what-if", whatif_views.of_zone, name="zone-what-if"),
    path("zones/<int:pk>/what-if/take", whatif_views.take, {"what": "zone"}, name="zone-take"),
    path("jobs/<int:pk>/what-if/take", whatif_views.take, {"what": "job"}, name="job-take"),
    path("zones/<int:pk>/adopt", build_up_views.adopt, name="adopt"),
]
