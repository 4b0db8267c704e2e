"""Logging what was measured on a face: film by a gauge, depths by a straightedge; typed, tapped or sent by a gauge."""

from emplastra.core.gauge.accept import wanted
from emplastra.core.gauge.readings import READING_MIN, SET_MIN
from emplastra.core.piece.face_grid import grid_of
from emplastra.logbook.models import KINDS, Kind
from emplastra.scales import services as scales

from .face_drawn import DrawnFace
from .log_views import LogView


class _LogPlaces(LogView):
    """Figures of places on a face, which may be tapped."""

    template = "work/log_gauge.html"
    asks = ""
    """What the figure is that is written before a place is tapped."""

    def context(self, form):
        each = self.state().facts
        face = DrawnFace(grid_of(each.revision.shapes, each.area_m2)) if each.revision else None
        return super().context(form) | {"face": face, "asks": self.asks} | (self.more(each) if face else {})

    def more(self, each):
        """More for the page of a zone with measures (its ZoneFacts)."""
        return {}


class LogGauge(_LogPlaces):
    """Readings of a gauge, and the gauge that is linked."""

    kind, asks = KINDS[Kind.GAUGED], "It reads"

    def more(self, each):
        gauge = scales.gauges().first() if self.request.user.may_write else None
        count = wanted(self.zone.job.film_by, each.area_m2)
        return {"gauge": gauge, "wanted": count, "wanted_min": SET_MIN + READING_MIN * count}


class LogLevel(_LogPlaces):
    """Depths by a straightedge."""

    kind, asks = KINDS[Kind.LEVELLED], "It stands, low is minus"

    def more(self, each):
        return {"marks": True}
