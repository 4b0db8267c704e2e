"""Materials."""

from django.urls import path

from . import views

app_name = "materials"
urlpatterns = [
    path("", views.products, name="list"),
    path("new", views.kinds, name="kinds"),
    path("new/<slug:kind>", views.ProductView.as_view(), name="new"),
    path("new/<slug:kind>/preview", views.preview, name="new-preview"),
    path("import", views.Import.as_view(), name="import"),
    path("<int:pk>/", views.product, name="product"),
    path("<int:pk>/revise", views.ProductView.as_view(), name="revise"),
    path("<int:pk>/revise/preview", views.preview, name="revise-preview"),
    path("labels/<int:pk>/<slug:size>", views.label_photo, name="label"),
    path("sheet-schema.json", views.schema, name="schema"),
]
