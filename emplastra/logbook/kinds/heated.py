"""Force-dried, baked or warmed by a lamp: a log of the metal's temperature."""

from django import forms
from django.db import models

from emplastra.core.air.heat import metal_in, minutes_at, read_log
from emplastra.core.errors import FieldError
from emplastra.core.surface import events
from emplastra.core.words import celsius_q, length_q
from emplastra.shared.fields import PlainNumber, QuantityField
from emplastra.shared.services import Refused

from ..forms import WholeForm
from ..kind import Detail, EntryKind, of_entry

UNITS = [("", "as shown here"), ("C", "°C"), ("F", "°F")]
HOW = {"oven": "Oven", "lamp": "Infrared lamp", "heater": "Heater, warm booth"}


class Heated(Detail):
    """Readings as they were typed, and as they were read [[min, °C], ...]; metal_c, minutes, flash_min: the schedule;
    counted_min: minutes at its temperature after the flash; hottest_c: the hottest that the metal was; field: of a
    lamp, what it warms at once; estimated: the metal was worked out from an oven's air.
    """

    entry = of_entry("heated")
    how = models.CharField(max_length=6, choices=list(HOW.items()))
    log = models.TextField()
    unit = models.CharField(max_length=2, default="C")
    points = models.JSONField()
    metal_c = models.FloatField(null=True)
    minutes = models.FloatField(null=True)
    flash_min = models.FloatField(default=0.0)
    counted_min = models.FloatField()
    hottest_c = models.FloatField()
    device = models.CharField(max_length=60, blank=True)
    distance_mm = models.FloatField(null=True)
    field_w_mm = models.FloatField(null=True)
    field_h_mm = models.FloatField(null=True)
    estimated = models.BooleanField(default=False)


class HeatedForm(WholeForm):
    """What warmed it, the schedule that was meant, and the metal's temperature as it was read."""

    how = forms.ChoiceField(label="Warmed by", choices=list(HOW.items()))
    log = forms.CharField(
        label="Metal as it was read",
        widget=forms.Textarea(attrs={"rows": 6, "class": "input", "data-from-file": ""}),
        max_length=60000,
        help_text="A line each: minutes since it was switched on, and degrees of the metal, as in 15 50. Or a logger’s "
        "table with its head, as in time, metal °C.",
    )
    unit = forms.ChoiceField(label="Degrees are", choices=UNITS, required=False)
    metal_c = QuantityField("temperature", 20, 300, label="Schedule: metal at", required=False)
    minutes = PlainNumber("min", label="Schedule: for", min_value=0.1, max_value=100000, required=False)
    flash_min = PlainNumber("min", label="Flash before heat", min_value=0, max_value=100000, required=False)
    device = forms.CharField(label="Which oven, lamp or heater", max_length=60, required=False)
    distance_mm = QuantityField("length", 50, 5000, label="Lamp off the panel", required=False)
    field_w_mm = QuantityField("length", 50, 5000, label="Lamp’s field, wide", required=False)
    field_h_mm = QuantityField("length", 50, 5000, label="Lamp’s field, high", required=False)
    estimated = forms.BooleanField(label="It is the oven’s air: work the metal out by this section", required=False)
    order = ("how", "log", "metal_c", "minutes", "flash_min")
    later = (
        "device",
        "distance_mm",
        "field_w_mm",
        "field_h_mm",
        "unit",
        "estimated",
        "note",
        "anyway",
        "step",
        "began",
    )

    def clean(self):
        data = super().clean()
        if self.errors or "log" not in data:
            return data
        try:
            data["unit"] = data["unit"] or ("F" if self.workshop.units == "us" else "C")
            data["found"] = read_log(data["log"], data["unit"])
        except FieldError as error:
            self.add_error(error.field, str(error))
        self._together(data, "metal_c", "minutes", "temperature and minutes of a schedule are told together")
        self._together(data, "field_w_mm", "field_h_mm", "a lamp’s field is told as wide and high")
        if data.get("estimated") and any(told for name, told in data.items() if name.startswith("also_")):
            self.add_error("estimated", "the metal is worked out for one section: log the other zones on their own")
        return data

    def _together(self, data, one, other, words):
        """Two figures of which one alone says nothing."""
        missing = [name for name in (one, other) if data.get(name) is None]
        if len(missing) == 1:
            self.add_error(missing[0], words)


class Kind(EntryKind):
    key, label, group, order = "heated", "Heated", "film", 55
    offered = "Heat"
    row, form = Heated, HeatedForm
    columns = ("points",)
    related = ("heated",)
    lamp = ("distance_mm", "field_w_mm", "field_h_mm")
    names = ("how", "log", "unit", "metal_c", "minutes", "flash_min", "device", *lamp, "estimated")
    given = ("metal_c", "minutes", "flash_min")
    work = "heat"
    cautions = (
        "Fire: fuel, wax and solvent are out or off first; eyes off the lamp, hands off hot metal; never alone.",
    )

    def event(self, common, told, sheets):
        return events.Heated(*common, points=tuple(map(tuple, told["points"])))

    def details(self, data, about):
        row = {name: data[name] for name in self.names} | {"flash_min": data["flash_min"] or 0.0}
        log = data["found"]
        if data["estimated"]:
            revision = about.zone.revisions.order_by("id").last()
            if revision is None:
                raise Refused("its measures are not told: read the metal", "estimated")
            log = metal_in(log, revision.oven_lag_s())
        hottest = max(metal_c for _, metal_c in log)
        asked = hottest if data["metal_c"] is None else data["metal_c"]
        counted = minutes_at(log, asked, row["flash_min"])
        return row | {"points": [list(each) for each in log], "counted_min": counted, "hottest_c": hottest}

    def tell(self, entry, context):
        told = entry.heated
        facts = [("hottest", celsius_q(told.hottest_c))]
        if told.metal_c is not None:
            at = f"{told.counted_min:.0f} of {told.minutes:g} min at {celsius_q(told.metal_c)}"
            facts.append(("counted", at))
        facts += [("by", told.device)] if told.device else []
        facts += [("off the panel", length_q(told.distance_mm))] if told.distance_mm else []
        facts += [("metal", "worked out from the oven’s air")] if told.estimated else []
        return f"Heated: {HOW[told.how].lower()}", facts
