"""Hand-over."""

from django.urls import path

from . import views

app_name = "handover"
urlpatterns = [
    path("jobs/<int:pk>/dossier", views.Dossier.as_view(), name="dossier"),
    path("jobs/<int:pk>/dossier.pdf", views.pdf, name="pdf"),
    path("jobs/<int:pk>/care", views.care, name="care"),
    path("jobs/<int:pk>/care/address", views.make_link, name="make-link"),
    path("jobs/<int:pk>/care/revoke", views.revoke, name="revoke"),
    path("care/<str:secret>", views.owner, name="owner"),
    path("care/<str:secret>/looks.ics", views.looks, name="looks"),
]
