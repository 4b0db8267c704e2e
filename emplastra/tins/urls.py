"""Store."""

from django.urls import path

from . import buying_views, trail_views, views

app_name = "tins"
urlpatterns = [
    path("store/", views.store, name="store"),
    path("store/in/<int:pk>", views.TakeIn.as_view(), name="take-in"),
    path("store/from-file", views.FromFile.as_view(), name="from-file"),
    path("store/tins.csv", views.export, name="export"),
    path("store/buying", buying_views.buying, name="buying"),
    path("store/order.csv", buying_views.order_csv, name="order-csv"),
    path("store/labels", views.labels, name="labels"),
    path("pots/<int:pk>/label", views.pot_label, name="pot-label"),
    path("batches/<int:pk>/", trail_views.trail, name="trail"),
    path("batches/<int:pk>/trail.csv", trail_views.export_csv, name="trail-csv"),
    path("batches/<int:pk>/trail.json", trail_views.export_json, name="trail-json"),
    path("batches/<int:pk>/recall", trail_views.recall, name="recall"),
    path("recalls/<int:pk>/lift", trail_views.lift, name="lift"),
    path("recalls/<int:pk>/faces/<int:zone>", trail_views.deal, name="deal"),
    path("tins/<int:pk>/", views.TinPage.as_view(), name="tin"),
    path("tins/<int:pk>/opened", views.opened, name="opened"),
    path("tins/<int:pk>/emptied", views.emptied, name="emptied"),
    path("tins/facts/<int:pk>/back", views.take_back, name="take-back"),
]
