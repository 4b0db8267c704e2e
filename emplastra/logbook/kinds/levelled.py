"""How far a face stands from flat, measured by a straightedge."""

from django import forms
from django.db import models

from emplastra.core.errors import FieldError
from emplastra.core.level.depths import read, read_marks
from emplastra.core.words import length_q
from emplastra.shared.fields import QuantityField

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry

AFTER = {"found": "As found", "highs": "Highs worked down", "filled": "Filled", "blocked": "Blocked"}
"""After which work it was measured."""
UNITS = [("", "as shown here"), ("mm", "mm"), ("in", "inches")]


class Levelled(Detail):
    """Depths as they were typed, in `unit`, and as they were read [[mm, x, y], ...], plus is proud; marked: lows and
    highs that were marked and not measured [[name, high, x, y], ...]; shows: letters of the lows whose marks show.
    """

    entry = of_entry("levelled")
    depths = models.TextField()
    unit = models.CharField(max_length=2, blank=True, choices=UNITS)
    points = models.JSONField()
    marked = models.JSONField(default=list)
    after = models.CharField(max_length=7, choices=list(AFTER.items()))
    edge_mm = models.FloatField(null=True)
    sure = models.BooleanField(default=False)
    shows = models.CharField(max_length=120, blank=True)


class LevelledForm(WholeForm):
    """Depths of a face, a row of it a line."""

    depths = forms.CharField(
        label="Depths",
        widget=forms.Textarea(attrs={"rows": 6, "class": "input", "data-from-file": "", "data-gauge-into": "depth"}),
        max_length=40000,
        required=False,
        help_text="From flat, by a straightedge: low is minus, proud is plus. One row of the face a line, - for none. "
        "Or low and high where they were marked and not measured.",
    )
    unit = forms.ChoiceField(label="Written in", choices=UNITS, required=False)
    after = forms.ChoiceField(label="Measured after", choices=list(AFTER.items()))
    edge_mm = QuantityField("length", 50, 5000, label="Straightedge", required=False)
    shows = forms.CharField(
        label="Marks that show again", max_length=120, required=False, help_text="Letters of the lows, as in A C D"
    )
    sure = forms.BooleanField(label="Yes, it stands so high", required=False)
    order = ("depths", "after", "shows", "edge_mm", "unit", "sure")
    later = ("unit", "edge_mm", "note", "anyway", "step", "began")

    def own_fields(self):
        return [f for f in super().own_fields() if f.name != "sure" or f.errors or f.value()]

    def clean(self):
        data = super().clean()
        if self.errors or "depths" not in data:
            return data
        if not data["depths"].strip() and data.get("shows"):
            data["unit"], data["found"], data["marked"] = data.get("unit", ""), (), ()
            return data
        shown = "in" if self.workshop.units == "us" else "mm"
        try:
            data["unit"] = data.get("unit") or shown
            data["found"] = read(data["depths"], data["unit"], data.get("sure", False))
            data["marked"] = read_marks(data["depths"])
        except FieldError as error:
            self.add_error(error.field, str(error))
        return data


class Kind(EntryKind):
    key, label, group, order = "levelled", "Level measured", "look", 187
    offered = "Level"
    together = False
    row, form = Levelled, LevelledForm
    related = ("levelled",)
    names = ("depths", "unit", "after", "edge_mm", "sure", "shows")

    def initial(self, about, first):
        return super().initial(about, first) or {"after": "found"}

    def details(self, data, about):
        row = {name: data[name] for name in self.names}
        marked = [[m.name, m.high, m.x, m.y] for m in data["marked"]]
        return row | {"points": [[d.mm, d.x, d.y] for d in data["found"]], "marked": marked}

    def tell(self, entry, context):
        told = entry.levelled
        mm = [point[0] for point in told.points]
        facts = []
        if mm:
            facts = [("lowest and highest", length_q(min(mm), max(mm), joined=" and ")), ("places", str(len(mm)))]
        facts += (
            [("marked", ", ".join(f"{name} {'high' if high else 'low'}" for name, high, *_ in told.marked))]
            if told.marked
            else []
        )
        facts += [("marks that show", told.shows)] if told.shows else []
        return f"Level measured: {AFTER[told.after].lower()}", facts
