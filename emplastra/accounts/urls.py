"""The door, one's own things, settings, people, the security log."""

from django.urls import path

from . import own_views, settings_views, views

app_name = "accounts"
urlpatterns = [
    path("sign-in", views.SignIn.as_view(), name="sign-in"),
    path("sign-in/code", views.SecondFactor.as_view(), name="second"),
    path("sign-out", views.SignOut.as_view(), name="sign-out"),
    path("first-run", views.FirstRun.as_view(), name="first-run"),
    path("password/<str:secret>", views.ChoosePassword.as_view(), name="choose-password"),
    path("health", views.health, name="health"),
    path("gloves", views.gloves, name="gloves"),
    path("you/", own_views.you, name="you"),
    path("you/password", own_views.OwnPassword.as_view(), name="own-password"),
    path("you/second-factor", own_views.Factor.as_view(), name="factor"),
    path("you/second-factor/off", own_views.FactorOff.as_view(), name="factor-off"),
    path("you/devices/end", own_views.end_session, name="end-session"),
    path("you/devices/end-others", own_views.end_others, name="end-others"),
    path("settings/", settings_views.Settings.as_view(), name="settings"),
    path("settings/people/", settings_views.people, name="people"),
    path("settings/people/add", settings_views.AddPerson.as_view(), name="add-person"),
    path("settings/people/<int:pk>/toggle", settings_views.toggle_person, name="toggle-person"),
    path("settings/people/<int:pk>/role", settings_views.change_role, name="role"),
    path("settings/people/<int:pk>/password", settings_views.new_password, name="new-password"),
    path("settings/people/<int:pk>/factor", settings_views.drop_factor, name="drop-factor"),
    path("settings/people/<int:pk>/sign-out", settings_views.sign_out_person, name="sign-out-person"),
    path("settings/log/", settings_views.log, name="log"),
    path("settings/log.csv", settings_views.log_csv, name="log-csv"),
]
