"""Stripped to the metal."""

from django import forms
from django.db import models

from emplastra.core.metal.strip import WAYS, is_by_hand, way_of
from emplastra.core.surface import events
from emplastra.core.surface.names import StepKind

from ..forms import LogForm
from ..kind import Detail, EntryKind, of_entry


class Bared(Detail):
    """How it was stripped; entries without one did not tell."""

    entry = of_entry("bared")
    how = models.CharField(max_length=12, choices=[(k, w.name) for k, w in WAYS.items()])


class BaredForm(LogForm):
    """Stripped to the metal, and how."""

    how = forms.ChoiceField(
        label="By", choices=[("", "not told"), *((k, w.name) for k, w in WAYS.items())], required=False
    )
    order = ("how",)


class Kind(EntryKind):
    key, label, group, order = "bared", "Bared", "surface", 20
    lasts = True
    same = ("how",)
    row, form, columns, related, given = Bared, BaredForm, ("how",), ("bared",), ("how",)
    caution_step, work, may_have_no_row = StepKind.STRIP, "strip", True

    def event(self, common, told, sheets):
        return events.Bared(*common, how=told["how"] or "", by_hand=is_by_hand(told["how"] or ""))

    def initial(self, about, first):
        if about.entry:
            told = about.of(self)
            return {"how": told.how} if told else {}
        steps = [s for s in about.steps if s.kind == StepKind.STRIP]
        step = next((s for s in steps if s.id == first["step"]), steps[0] if steps else None)
        return {"how": (step.way or way_of(step.note)) if step else ""}

    def details(self, data, about):
        # Who did not tell how has no row: so it was before it was asked.
        return {"how": data["how"]} if data["how"] else None

    def tell(self, entry, context):
        told = getattr(entry, "bared", None)
        how = told.get_how_display() if told else ""
        return f"Bared: {how[:1].lower()}{how[1:]}" if how else self.label, []
