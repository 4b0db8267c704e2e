"""Materials."""

from django.urls import path

from . import views

app_name = "materials"
urlpatterns = [
    path("", views.products, name="list"),
    path("import", views.Import.as_view(), name="import"),
    path("<int:pk>/", views.product, name="product"),
    path("sheet-schema.json", views.schema, name="schema"),
]
