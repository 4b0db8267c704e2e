"""Logging what a film gauge read: typed, tapped on the face, or sent by the gauge."""

from django.utils.functional import cached_property

from emplastra.core.gauge.accept import wanted
from emplastra.core.piece.face_grid import grid_of
from emplastra.logbook.models import KINDS, Kind
from emplastra.scales import services as scales

from .face_drawn import DrawnFace
from .log_views import LogView


class LogGauge(LogView):
    """Readings of a gauge, with the face to tap on and the gauge that is linked."""

    kind = KINDS[Kind.GAUGED]
    template = "work/log_gauge.html"

    @cached_property
    def revision(self):
        """The zone's measures, None without."""
        return self.state().facts.revision

    def context(self, form):
        each = self.state().facts
        face = DrawnFace(grid_of(self.revision.shapes, each.area_m2)) if self.revision else None
        more = {"face": face, "gauge": scales.gauges().first() if self.request.user.may_write else None}
        more["wanted"] = wanted(self.zone.job.film_by, each.area_m2) if self.revision else None
        return super().context(form) | more
