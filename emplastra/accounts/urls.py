"""Sign-in, first run, health, gloves, settings, people."""

from django.urls import path

from . import views

app_name = "accounts"
urlpatterns = [
    path("sign-in", views.SignIn.as_view(), name="sign-in"),
    path("sign-out", views.SignOut.as_view(), name="sign-out"),
    path("first-run", views.FirstRun.as_view(), name="first-run"),
    path("health", views.health, name="health"),
    path("settings/", views.Settings.as_view(), name="settings"),
    path("settings/people/", views.people, name="people"),
    path("settings/people/add", views.AddPerson.as_view(), name="add-person"),
    path("settings/people/<int:pk>/toggle", views.toggle_person, name="toggle-person"),
    path("gloves", views.gloves, name="gloves"),
]
