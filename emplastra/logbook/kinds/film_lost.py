"""Welding, grinding or a knock."""

from django import forms
from django.db import models

from emplastra.core.surface import events
from emplastra.core.surface.names import Loss, StepKind
from emplastra.core.words import length_q
from emplastra.shared.fields import QuantityField

from ..forms import LogForm
from ..kind import Detail, EntryKind, of_entry


class FilmLost(Detail):
    """Welding, grinding or a knock: the share of each face is in the entry's zones."""

    class Cause(models.TextChoices):
        WELD = Loss.WELD, "Welded"
        GRIND = Loss.GRIND, "Ground"
        KNOCK = Loss.KNOCK, "Knocked"

    entry = of_entry("film_lost")
    cause = models.CharField(max_length=8, choices=Cause.choices)
    length_mm = models.FloatField(null=True)
    strip_mm = models.FloatField(null=True)


class FilmLostForm(LogForm):
    """Welded, ground or knocked: film is gone from a strip of this face, and of the other."""

    cause = forms.ChoiceField(label="What happened", choices=FilmLost.Cause.choices)
    length_mm = QuantityField("length", 1, 100000, label="Length of the seam", required=False)
    strip_mm = QuantityField("length", 1, 2000, label="Width of film lost", initial=50.0, required=False)
    other = forms.ModelChoiceField(
        None,
        label="The other face",
        required=False,
        empty_label="None, or not coated",
        help_text="Heat burns film off both faces.",
    )
    order = ("cause", "length_mm", "strip_mm", "share", "other")

    def __init__(self, *args, others, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["other"].queryset = others
        self.fields["share"].required, self.fields["share"].initial = False, None
        self.fields["share"].help_text = "Or leave it blank and give length and width."

    def clean(self):
        data = super().clean()
        if (
            data.get("share") is None
            and "share" not in self.errors
            and not (data.get("length_mm") and data.get("strip_mm"))
        ):
            self.add_error("length_mm", "give the length and the width of the strip, or the share of the zone")
        return data

    def zones(self):
        faces = [self.zone, *([self.cleaned_data["other"]] if self.cleaned_data.get("other") else [])]
        return tuple(
            (zone, self._share(zone), self.cleaned_data["step"] if zone == self.zone else "") for zone in faces
        )

    def _share(self, zone):
        if self.cleaned_data.get("share") is not None:
            return self.cleaned_data["share"] / 100
        strip_m2 = self.cleaned_data["length_mm"] * self.cleaned_data["strip_mm"] / 1e6
        return min(1.0, max(0.001, strip_m2 / zone.revisions.first().area_m2))


class Kind(EntryKind):
    key, label, group, order = "film-lost", "Film lost", "film", 130
    lasts = True
    same = ("cause", "strip_mm")
    together = False
    row, form, columns, related, given = FilmLost, FilmLostForm, ("cause",), ("film_lost",), ("cause",)
    caution_step, names = StepKind.WELD, ("cause", "length_mm", "strip_mm")
    offered = "Weld or grind"

    def event(self, common, told, sheets):
        return events.FilmLost(*common, cause=Loss(told["cause"]))

    def form_kwargs(self, about):
        return {"others": about.zone.job.zones.in_use().exclude(pk=about.zone.pk)}

    def tell(self, entry, context):
        told = entry.film_lost
        strip = [("strip", length_q(told.length_mm, told.strip_mm, digits=0))] if told.length_mm else []
        return f"{told.get_cause_display()}: what film was there is off", strip
