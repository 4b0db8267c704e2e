"""Hand-over."""

from django.urls import path

from . import again_views, archive_views, copy_views, shares_views, views

app_name = "handover"
urlpatterns = [
    path("jobs/<int:pk>/dossier", views.Dossier.as_view(), name="dossier"),
    path("jobs/<int:pk>/dossier.pdf", views.pdf, name="pdf"),
    path("jobs/<int:pk>/care", views.care, name="care"),
    path("jobs/<int:pk>/care/address", views.make_link, name="make-link"),
    path("jobs/<int:pk>/care/revoke", views.revoke, name="revoke"),
    path("jobs/<int:pk>/archive", archive_views.archive, name="archive"),
    path("jobs/<int:pk>/archive/make", archive_views.make, name="make-archive"),
    path("jobs/<int:pk>/archive.zip", archive_views.fetch, name="zip"),
    path("jobs/bring", archive_views.Bring.as_view(), name="bring"),
    path("jobs/<int:pk>/again", again_views.again, name="again"),
    path("zones/<int:pk>/again", again_views.Again.as_view(), name="look-again"),
    path("zones/<int:pk>/again/same", again_views.same, name="same"),
    path("zones/<int:pk>/shares", shares_views.shares, name="shares"),
    path("zones/<int:pk>/shares/look", shares_views.ask_for_look, name="ask-for-look"),
    path("zones/<int:pk>/copy", copy_views.Copy.as_view(), name="copy"),
    path("copies/<int:pk>/word", copy_views.say, name="copy-word"),
    path("held/", again_views.held, name="held"),
    path("archive/schema.json", archive_views.schema, name="archive-schema"),
    path("care/<str:secret>", views.owner, name="owner"),
    path("care/<str:secret>/looks.ics", views.looks, name="looks"),
]
