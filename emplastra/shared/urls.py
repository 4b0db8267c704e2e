from django.urls import path

from . import task_views

app_name = "shared"
urlpatterns = [
    path("tasks/<int:pk>/", task_views.page, name="task"),
    path("tasks/<int:pk>/progress", task_views.progress, name="task-progress"),
    path("tasks/<int:pk>/stop", task_views.stop, name="stop-task"),
]
