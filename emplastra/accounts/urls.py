"""Sign-in, first run, health, gloves."""

from django.urls import path

from . import views

app_name = "accounts"
urlpatterns = [
    path("sign-in", views.SignIn.as_view(), name="sign-in"),
    path("sign-out", views.SignOut.as_view(), name="sign-out"),
    path("first-run", views.FirstRun.as_view(), name="first-run"),
    path("health", views.health, name="health"),
    path("gloves", views.gloves, name="gloves"),
]
