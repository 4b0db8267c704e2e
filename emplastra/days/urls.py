"""Days."""

from django.urls import path

from . import views

app_name = "days"
urlpatterns = [
    path("days/", views.days, name="days"),
    path("days/plan", views.plan, name="plan"),
    path("days/plan/<int:pk>/", views.task, name="task"),
    path("days/plan/<int:pk>/enough", views.enough, name="enough"),
    path("days/plan/<int:pk>/take", views.take, name="take"),
]
