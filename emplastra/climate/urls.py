"""Air."""

from django.urls import path

from . import views

app_name = "climate"
urlpatterns = [
    path("", views.air, name="air"),
    path("import", views.Import.as_view(), name="import"),
    path("batches/<int:pk>/withdraw", views.withdraw, name="withdraw"),
]
