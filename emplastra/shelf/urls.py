"""Materials."""

from django.urls import path

from . import paste_views, views

app_name = "materials"
urlpatterns = [
    path("", views.products, name="list"),
    path("new", views.kinds, name="kinds"),
    path("new/<slug:kind>", views.ProductView.as_view(), name="new"),
    path("new/<slug:kind>/preview", views.preview, name="new-preview"),
    path("import", views.Import.as_view(), name="import"),
    path("<int:pk>/", views.product, name="product"),
    path("paste", paste_views.Paste.as_view(), name="paste"),
    path("paste/<int:pk>", paste_views.PasteTask.as_view(), name="paste-task"),
    path("starter", views.starter, name="starter"),
    path("shelf.<slug:form>", views.library, name="library"),
    path("<int:pk>/sheet.<slug:form>", views.export, name="export"),
    path("<int:pk>/compare", views.compare, name="compare"),
    path("<int:pk>/retire", views.Retire.as_view(), name="retire"),
    path("<int:pk>/revise", views.ProductView.as_view(), name="revise"),
    path("<int:pk>/revise/preview", views.preview, name="revise-preview"),
    path("labels/<int:pk>/<slug:size>", views.label_photo, name="label"),
    path("library-schema.json", views.library_schema, name="library-schema"),
    path("sheet-schema.json", views.schema, name="schema"),
]
