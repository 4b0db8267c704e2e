"""Store."""

from django.urls import path

from . import views

app_name = "tins"
urlpatterns = [
    path("store/", views.store, name="store"),
    path("store/in/<int:pk>", views.TakeIn.as_view(), name="take-in"),
    path("store/from-file", views.FromFile.as_view(), name="from-file"),
    path("store/tins.csv", views.export, name="export"),
    path("store/labels", views.labels, name="labels"),
    path("pots/<int:pk>/label", views.pot_label, name="pot-label"),
    path("tins/<int:pk>/", views.TinPage.as_view(), name="tin"),
    path("tins/<int:pk>/opened", views.opened, name="opened"),
    path("tins/<int:pk>/emptied", views.emptied, name="emptied"),
    path("tins/facts/<int:pk>/back", views.take_back, name="take-back"),
]
