"""The pass as it is asked for: the gun, the coat, the hand, the face."""

from django import forms

from emplastra.core.errors import FieldError
from emplastra.core.spray.film import Wanted
from emplastra.core.spray.gun import BODIES, Gun
from emplastra.core.spray.panel import Panel, openings_of, openings_text
from emplastra.core.spray.strokes import STROKES_MOST, Hand
from emplastra.core.units import convert, display_unit
from emplastra.shared.fields import PlainNumber, QuantityField

EDGES = {"": "None", "flat": "Round them first", "tilted": "Tilted, first"}
SHARES = ("stays", "solids", "overlap")
GUN = ("fan", "fan_at", "distance", "flow", "body", "stays")
COAT = ("film", "solids")
HAND = ("speed", "overlap", "overrun", "edges", "over_holes", "rows")
FACE = ("lie", "upright", "returns", "openings")


class PassForm(forms.Form):
    """One pass; what nobody told stands in it with what it rests on."""

    fan = QuantityField("length", 5, 1000, label="Fan")
    fan_at = QuantityField("length", 30, 800, label="Measured at")
    distance = QuantityField("length", 30, 800, label="Held at")
    flow = QuantityField("flow", 1, 5000, label="Flow")
    body = forms.ChoiceField(label="Across the fan", choices=[(key, name) for key, (name, _) in BODIES.items()])
    stays = PlainNumber("%", label="Stays on", min_value=5, max_value=100)
    film = QuantityField("film", 0.5, 2000, label="Film wanted")
    solids = PlainNumber("%", label="Solids in the gun", min_value=0.5, max_value=100)
    speed = QuantityField("speed", 0.02, 3.0, label="Speed of the hand")
    overlap = PlainNumber("%", label="Overlap", min_value=0, max_value=95)
    overrun = QuantityField("length", -500, 500, label="Past the edge")
    edges = forms.ChoiceField(label="Strokes at edges", choices=list(EDGES.items()), required=False)
    over_holes = forms.ChoiceField(label="Over openings", choices=[("released", "Released"), ("through", "Sprayed")])
    rows = forms.CharField(label="Rows at", required=False, max_length=4000, help_text="From the top; blank: evenly")
    lie = forms.ChoiceField(label="The face", choices=[("stands", "Stands"), ("lies", "Lies flat")])
    upright = forms.ChoiceField(
        label="Its longer side", choices=[("", "Across"), ("upright", "Upright")], required=False
    )
    returns = QuantityField("length", 0, 150, label="Edges return by")
    openings = forms.CharField(
        label="Openings",
        required=False,
        max_length=400,
        help_text="From the left, the top, wide, high; a semicolon between",
    )

    def __init__(self, data, *, system):
        self.system, self.scale = system, convert(1.0, display_unit("length", system), "mm")
        super().__init__(data)
        for field in self.fields.values():
            if isinstance(field, QuantityField):
                field.system = system

    def clean_openings(self):
        """Openings as boxes [mm]."""
        try:
            return openings_of(self.cleaned_data["openings"], self.scale)
        except FieldError as error:
            raise forms.ValidationError(str(error)) from error

    def clean_rows(self):
        """Where the rows run [mm from the top], None for evenly."""
        text = self.cleaned_data["rows"].replace(";", " ")
        try:
            found = [float(part.replace(",", ".")) * self.scale for part in text.split()]
        except ValueError:
            found = [float("nan")]
        if len(found) > STROKES_MOST or not all(-1000.0 <= mm <= 31_000.0 for mm in found):
            raise forms.ValidationError("write where each row runs, as in 0 100 200 300")
        return sorted(found) or None

    def groups(self):
        """[(heading, its fields)] in the order of the page."""
        names = (("Gun", GUN), ("Coat", COAT), ("Your hand", HAND), ("Face", FACE))
        return [(heading, [self[name] for name in fields]) for heading, fields in names]

    @property
    def gun_told(self):
        """{field: figure in the core's unit} of gun and hand."""
        return {name: self.cleaned_data[name] for name in (*GUN, "speed", "overlap", "overrun")}

    def gun(self, method):
        """The core's Gun."""
        d = self.cleaned_data
        return Gun(d["flow"], d["fan"], d["distance"], d["fan_at"], d["stays"] / 100, d["body"], method)

    def hand(self):
        """The core's Hand."""
        d = self.cleaned_data
        released = d["over_holes"] == "released"
        return Hand(d["speed"], d["overlap"] / 100, d["overrun"], 0.0, d["edges"], None, released)

    def panel(self, whole):
        """The core's Panel; whole: the face as its measures have it."""
        return Panel(whole.w_mm, whole.h_mm, self.cleaned_data["openings"], self.cleaned_data["returns"]).check()

    def wanted(self, even, sags_wet_um):
        """The core's Wanted; even: (low, high) that counts as even [µm]."""
        d = self.cleaned_data
        sags = sags_wet_um if d["lie"] == "stands" else None
        return Wanted(d["film"], *even, d["solids"] / 100, sags)


def first_data(spraying, panel, system):
    """What the form stands with before anything is typed."""
    form = PassForm(None, system=system)
    found = {name: form.fields[name].prepare_value(value) for name, (value, _) in spraying.figures.items()}
    scale = form.scale
    more = {"edges": "", "over_holes": "released", "lie": "stands", "upright": "", "returns": "0", "rows": ""}
    more["openings"] = openings_text(panel.openings, scale) if panel else ""
    return {name: "" if value is None else value for name, value in (found | more).items()}
