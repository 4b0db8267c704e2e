"""Practice."""

from django.urls import path

from . import views

app_name = "practice"
urlpatterns = [
    path("practice/", views.home, name="home"),
    path("practice/start", views.start, name="start"),
    path("practice/<int:pk>/", views.run, name="run"),
    path("practice/<int:pk>/again", views.again, name="again"),
]
