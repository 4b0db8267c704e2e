"""Air."""

from django.urls import path

from . import views

app_name = "climate"
urlpatterns = [
    path("", views.air, name="air"),
    path("import", views.Import.as_view(), name="import"),
    path("places/", views.places, name="places"),
    path("places/add", views.save_place, name="add-place"),
    path("places/<int:pk>", views.save_place, name="edit-place"),
    path("reading", views.NoteReading.as_view(), name="reading"),
    path("import/<int:pk>/", views.ConfirmShape.as_view(), name="shape"),
    path("import/<int:pk>/preview", views.shape_preview, name="shape-preview"),
    path("import/<int:pk>/throw-away", views.throw_away, name="throw-away"),
    path("batches/<int:pk>/withdraw", views.withdraw, name="withdraw"),
    path("forecasts/<int:pk>/withdraw", views.withdraw_forecast, name="withdraw-forecast"),
]
