"""Days."""

from django.urls import path

from . import feeds, hours, money, views

app_name = "days"
urlpatterns = [
    path("days/", views.days, name="days"),
    path("days/plan", views.plan, name="plan"),
    path("days/plan/<int:pk>/", views.task, name="task"),
    path("days/plan/<int:pk>/enough", views.enough, name="enough"),
    path("days/plan/<int:pk>/take", views.take, name="take"),
    path("days/plan/<int:pk>/way/<int:number>", views.way, name="way"),
    path("days/put", views.put, name="put"),
    path("days/calendar/", feeds.Calendar.as_view(), name="calendar"),
    path("days/calendar/revoke", feeds.revoke, name="revoke"),
    path("days/sheet", feeds.sheet, name="sheet"),
    path("jobs/<int:pk>/money/", money.MoneyPage.as_view(), name="money"),
    path("paid/<int:pk>/back", money.strike, name="strike-paid"),
    path("feeds/<str:secret>.ics", feeds.feed, name="feed"),
    path("days/hours/", hours.Hours.as_view(), name="hours"),
    path("days/hours/<int:pk>/usual", hours.usual, name="usual"),
    path("days/lies/<int:pk>", hours.lie, name="lie"),
    path("days/hours/<int:pk>/back", hours.strike, name="strike"),
]
