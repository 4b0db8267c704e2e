"""Rules, strip plan, verdict on the metal, access, treatment, solder, hours."""

from django.urls import path

from . import access_views, hours_views, rule_views, school_views, solder_views, treat_views, verdict_views

app_name = "metal"
urlpatterns = [
    path("rules/", rule_views.rules, name="rules"),
    path("rules/coats", rule_views.look_at_coats, name="look-at-coats"),
    path("rules/coats/<int:pk>", rule_views.coat_rules, name="coat-rules"),
    path("rules/schools", rule_views.choose_school, name="schools"),
    path("rules/schools/preview", school_views.preview, name="schools-preview"),
    path("zones/<int:pk>/strip", rule_views.strip_plan, name="strip"),
    path("zones/<int:pk>/strip/take", rule_views.take_way, name="take-way"),
    path("jobs/<int:pk>/quiet", rule_views.quiet, name="quiet"),
    path("zones/<int:pk>/accept", rule_views.accept, name="accept"),
    path("zones/<int:pk>/fix", rule_views.fix, name="fix"),
    path("jobs/<int:pk>/verdict", verdict_views.Verdict.as_view(), name="verdict"),
    path("jobs/<int:pk>/decide", verdict_views.decide, name="decide"),
    path("estimates/<int:pk>/strike", verdict_views.strike, name="strike"),
    path("hours/", hours_views.Hours.as_view(), name="hours"),
    path("hours/<int:pk>/<slug:kind>", hours_views.count, name="count-hours"),
    path("jobs/<int:pk>/access", access_views.Access.as_view(), name="access"),
    path("jobs/<int:pk>/access/<slug:act>", access_views.access_act, name="access-act"),
    path("zones/<int:pk>/metal", treat_views.treat, name="treat"),
    path("zones/<int:pk>/solder", solder_views.Solder.as_view(), name="solder"),
]
