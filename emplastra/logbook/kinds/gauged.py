"""All film on a face measured by a gauge."""

from statistics import fmean

from django import forms
from django.db import models

from emplastra.core.errors import FieldError
from emplastra.core.gauge.readings import OVER, PROFILE_UM, Taken, drifted, read, reads_over
from emplastra.core.piece.face_grid import grid_of
from emplastra.core.surface import events
from emplastra.core.words import film_q
from emplastra.shared.fields import QuantityField
from emplastra.shared.services import Refused

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry

UNITS = [("", "as shown here"), ("um", "µm"), ("mil", "mil")]
SET_ON = {
    "": "as it lies",
    "fine": "blasted fine",
    "medium": "blasted medium",
    "coarse": "blasted coarse",
    "unknown": "blasted, not known",
}
"""What the metal under the film is, where the gauge was set on smooth steel."""


PULL = [("", "not tried"), ("all", "holds all over"), ("part", "no pull in places")]
"""What a magnet does on old paint."""


class Gauged(Detail):
    """Readings as they were typed, in `unit`, and as they were read [[µm, x, y], ...]; mean_um, least_um: of spots,
    corrected; old: paint that was there before, which is no film of ours.
    """

    entry = of_entry("gauged")
    readings = models.TextField()
    unit = models.CharField(max_length=3, blank=True, choices=UNITS)
    points = models.JSONField()
    per_spot = models.PositiveSmallIntegerField(default=1)
    zero_um = models.FloatField(default=0.0)
    profile = models.CharField(max_length=8, blank=True, choices=list(SET_ON.items()))
    over = models.CharField(max_length=8, default="metal", choices=list(OVER.items()))
    gauge = models.CharField(max_length=40, blank=True)
    old = models.BooleanField(default=False)
    pull = models.CharField(max_length=4, blank=True, choices=PULL)
    mean_um = models.FloatField()
    least_um = models.FloatField()
    count = models.PositiveSmallIntegerField()

    @property
    def taken(self):
        """How its readings were taken (core Taken)."""
        return Taken(self.per_spot, self.zero_um, PROFILE_UM.get(self.profile, 0.0))


class GaugedForm(WholeForm):
    """Readings of a gauge: rows of the face a line, or a list with places."""

    readings = forms.CharField(
        label="Readings",
        widget=forms.Textarea(attrs={"rows": 5, "class": "input", "data-from-file": "", "data-gauge-into": "reading"}),
        max_length=40000,
        help_text="One row of the face a line, left to right, - for none. Or a list headed x %, y %, reading.",
    )
    unit = forms.ChoiceField(label="The gauge shows", choices=UNITS, required=False)
    per_spot = forms.ChoiceField(label="Readings a spot", choices=[("1", "one"), ("3", "three")], required=False)
    zero_um = QuantityField("film", -1000, 1000, label="A bare plate reads", required=False)
    profile = forms.ChoiceField(
        label="Metal under it",
        choices=list(SET_ON.items()),
        required=False,
        help_text="Blasted, and the gauge set on smooth steel: the profile is taken off each reading.",
    )
    over = forms.ChoiceField(label="Held over", choices=list(OVER.items()), required=False)
    gauge = forms.CharField(label="Gauge", max_length=40, required=False)
    old = forms.BooleanField(label="Old paint, before it is stripped", required=False)
    pull = forms.ChoiceField(label="A magnet on the old paint", choices=PULL, required=False)
    order = ("readings", "per_spot", "unit", "zero_um", "over", "profile", "gauge", "old", "pull")
    later = ("unit", "over", "profile", "gauge", "old", "pull", "note", "anyway", "step", "began")

    def __init__(self, *args, grid=None, asked_um=None, **kwargs):
        """grid: the face laid flat (FaceGrid); asked_um: about what its film should be [µm]."""
        super().__init__(*args, **kwargs)
        self.grid, self.asked_um = grid, asked_um

    def clean(self):
        data = super().clean()
        if data.get("over") == "laminate":
            self.add_error("over", reads_over("laminate"))
        if self.errors or "readings" not in data:
            return data
        shown = "mil" if self.workshop.units == "us" else "um"
        size = (self.grid.w_mm, self.grid.h_mm) if self.grid else None
        try:
            asked = None if data.get("old") else self.asked_um
            data["found"] = read(data["readings"], data["unit"], int(data["per_spot"] or 1), size, asked, shown)
            data["unit"] = data["unit"] or shown
        except FieldError as error:
            self.add_error(error.field, str(error))
        return data


class Kind(EntryKind):
    key, label, group, order = "gauged", "Gauged", "look", 185
    offered = "Film gauge"
    together, work = False, "film"
    row, form = Gauged, GaugedForm
    columns = ("mean_um", "least_um", "count", "old")
    related = ("gauged",)
    names = ("readings", "unit", "zero_um", "profile", "over", "gauge", "old", "pull")

    def event(self, common, told, sheets):
        if told["old"]:
            return None
        return events.Gauged(*common, told["mean_um"], told["least_um"], told["count"])

    def form_kwargs(self, about):
        revision = about.zone.revisions.order_by("id").last()
        grid = grid_of(revision.shapes, revision.area_m2) if revision else None
        planned = sum(s.put_on_um or 0.0 for s in about.steps if not s.left_out)
        return {"grid": grid, "asked_um": planned or None}

    def initial(self, about, first):
        told = about.of(self)
        found = super().initial(about, first)
        return found | ({"per_spot": str(told.per_spot)} if told else {})

    def details(self, data, about):
        row = {name: data[name] for name in self.names}
        row |= {"zero_um": data["zero_um"] or 0.0, "over": data["over"] or "metal"}
        taken = Taken(int(data["per_spot"] or 1), row["zero_um"], PROFILE_UM.get(data["profile"], 0.0))
        spots = taken.spots(taken.corrected(data["found"]))
        if not any(spot.um for spot in spots):
            raise Refused("no film is left once the zero is taken off", "zero_um")
        return row | {
            "per_spot": taken.per_spot,
            "points": [[r.um, r.x, r.y] for r in data["found"]],
            "mean_um": fmean(spot.um for spot in spots),
            "least_um": min(spot.um for spot in spots),
            "count": len(data["found"]),
        }

    def tell(self, entry, context):
        told = entry.gauged
        facts = [("mean", film_q(told.mean_um)), ("thinnest", film_q(told.least_um)), ("readings", str(told.count))]
        facts += [("gauge", told.gauge)] if told.gauge else []
        facts += [("zero", drifted(told.zero_um) or film_q(told.zero_um))] if told.zero_um else []
        facts += [("magnet", dict(PULL)[told.pull])] if told.pull else []
        facts += [("held over", OVER[told.over])] if told.over != "metal" else []
        return f"Gauged{' on old paint' if told.old else ''}", facts
