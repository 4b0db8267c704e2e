"""Colour of a job: what is masked from what."""

from django.urls import path

from . import blend_views, colour_views, fault_views, masking_views, pass_views, seam_views

app_name = "colour"
urlpatterns = [
    path("jobs/<int:pk>/colour", colour_views.colour, name="colour"),
    path("jobs/<int:pk>/colour/tell", colour_views.TellColour.as_view(), name="tell"),
    path("jobs/<int:pk>/colour/card", colour_views.AddCard.as_view(), name="card"),
    path("jobs/<int:pk>/colour/group", colour_views.MakeGroup.as_view(), name="group"),
    path("jobs/<int:pk>/colour/choose", colour_views.choose, name="choose"),
    path("jobs/<int:pk>/colour/mend", colour_views.mend, name="mend"),
    path("jobs/<int:pk>/colour/ground-again", colour_views.ground_again, name="ground-again"),
    path("jobs/<int:pk>/colour/blend", blend_views.blend, name="blend"),
    path("jobs/<int:pk>/colour/blend/plan", blend_views.plan, name="plan-blend"),
    path("zones/<int:pk>/seams", seam_views.finish, name="finish"),
    path("zones/<int:pk>/seams/plan", seam_views.plan, name="plan-seam"),
    path("zones/<int:pk>/seams/texture", seam_views.plan_of_texture, name="plan-texture"),
    path("zones/<int:pk>/pass", pass_views.pass_page, name="pass"),
    path("zones/<int:pk>/pass/answer", pass_views.answer, name="pass-answer"),
    path("zones/<int:pk>/pass/plan", pass_views.plan, name="plan-pass"),
    path("zones/<int:pk>/pass/gun", pass_views.remember, name="remember-gun"),
    path("zones/<int:pk>/faults", fault_views.faults_page, name="faults"),
    path("zones/<int:pk>/faults/note", fault_views.note, name="note-fault"),
    path("zones/<int:pk>/faults/plan", fault_views.plan, name="plan-remedy"),
    path("jobs/<int:pk>/masking", masking_views.masking, name="masking"),
]
