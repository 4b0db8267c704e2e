"""Window, Mix, logging and correcting."""

from django.urls import path, register_converter

from . import coat_views, log_views, mix_views, pot_acts, pot_views, round_views, taps, views


class LogKind:
    """Kinds that are logged on a zone by a form."""

    regex = "|".join(views.LOGGED)

    def to_python(self, value):
        return value

    def to_url(self, value):
        return str(value)


register_converter(LogKind, "logkind")

app_name = "work"
urlpatterns = [
    path("zones/<int:pk>/", views.now, name="now"),
    path("zones/<int:pk>/window", views.window_moved),
    path("zones/<int:pk>/working", views.working, name="working"),
    path("zones/<int:pk>/missed", views.Missed.as_view(), name="missed"),
    path("zones/<int:pk>/mix", mix_views.Mix.as_view(), name="mix"),
    path("zones/<int:pk>/pots", round_views.Pots.as_view(), name="pots"),
    path("zones/<int:pk>/mix/preview", mix_views.mix_preview, name="mix-preview"),
    path("acts", taps.act, name="act"),
    path("zones/<int:pk>/log/coat/preview", coat_views.preview, name="coat-preview"),
    path("zones/<int:pk>/log/<logkind:kind>/preview", log_views.preview, name="log-preview"),
    path("zones/<int:pk>/log/", views.log_start, name="log-start"),
    path("zones/<int:pk>/log/<logkind:kind>", views.log, name="log"),
    path("pots/<int:pk>/", pot_views.PotPage.as_view(), name="pot"),
    path("pots/<int:pk>/tare", pot_acts.tare, name="tare"),
    path("pots/<int:pk>/preview", pot_views.pot_preview, name="pot-preview"),
    path("pots/<int:pk>/change", pot_acts.ChangePot.as_view(), name="change-pot"),
    path("pots/<int:pk>/stick.pdf", pot_acts.stick, name="stick"),
    path("pots/<int:pk>/end", pot_acts.EndPot.as_view(), name="end-pot"),
    path("weighings/<int:entry>/correct", pot_acts.CorrectWeighing.as_view(), name="correct-weighing"),
    path("entries/<int:pk>/done", views.done, name="done"),
    path("entries/<int:pk>/undo", views.undo, name="undo"),
    path("entries/<int:pk>/void", views.void, name="void"),
    path("entries/<logkind:kind>/<int:entry>/correct", views.correct, name="correct"),
]
