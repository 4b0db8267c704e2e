"""What is typed when something is logged or planned."""

import re

from django import forms

from emplastra.core.metal.strip import WAYS
from emplastra.core.product import film
from emplastra.core.surface.events import CHECKS
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.contractor import CAME_BACK, SEND_OFF, TRADES
from emplastra.core.survey.inspection import POINTS, InspectionError, answers_of, check, word
from emplastra.core.units import UnitError, display_unit, parse_quantity
from emplastra.logbook.models import Access, FilmLost
from emplastra.shared.fields import LocalTimeField, QuantityField, WorkshopForm

METHODS = [(key, method.name) for key, method in film.METHODS.items()]


class FilmsField(QuantityField):
    """Wet film readings: numbers with spaces between, one unit at the end at most; a list of µm."""

    def __init__(self, **kwargs):
        super().__init__("film", 1, 20000, **kwargs)

    def prepare_value(self, value):
        return " ".join(f"{v:g}" for v in value) if isinstance(value, list) else value

    def clean(self, value):
        text = forms.CharField.clean(self, value)
        match = re.fullmatch(r"\s*([\d.,;\s/]*?)\s*([^\d.,;\s][^\d]*)?\s*", text or "")
        if not match or (match[2] and not match[1]):
            raise forms.ValidationError("write readings with spaces between, as in 110 120 115")
        unit = match[2] or display_unit("film", self.system)
        try:
            values = [parse_quantity(f"{n} {unit}", "film").value for n in re.split(r"[\s;]+", match[1]) if n]
        except UnitError as error:
            raise forms.ValidationError(str(error)) from error
        if any(not self.low <= v <= self.high for v in values):
            raise forms.ValidationError("each reading must be from 1 to 20000 µm")
        return values


class LogForm(WorkshopForm):
    """When something began and ended on a zone, over which share, and a note."""

    began = LocalTimeField(label="Began", help_text="14:05, yesterday 16:00, or 2026-05-12 14:05")
    ended = LocalTimeField(label="Ended")
    share = QuantityField("percent", 0.1, 100, label="Share covered", initial=100.0)
    note = forms.CharField(label="Note", required=False, max_length=400)
    confirm_old = forms.BooleanField(label="Yes, this was over 12 hours ago", required=False)
    reason = forms.CharField(label="Why is it corrected?", max_length=200)
    seen = forms.IntegerField(widget=forms.HiddenInput, required=False)
    order = ()

    def __init__(self, *args, zone, steps=(), correcting=False, **kwargs):
        super().__init__(*args, **kwargs)
        self.zone, self.correcting = zone, correcting
        if not correcting:
            del self.fields["reason"]
        mine = [
            ("", "Not in the plan"),
            *[(s.id, f"{i}. {STEPS[s.kind].name}" + (f", {s.product}" if s.product else "")) for i, s in steps],
        ]
        self.fields["step"] = forms.ChoiceField(label="Step of the plan", choices=mine, required=False)
        self.order_fields(["token", "reason", *self.order, "step", "began", "ended", "share", "note", "confirm_old"])

    def clean(self):
        data = super().clean()
        began, ended = data.get("began"), data.get("ended")
        if began and ended and ended < began:
            self.add_error("ended", "must not be before it began")
        return data

    def zones(self):
        """((zone, share, step),) for the service."""
        return ((self.zone, self.cleaned_data["share"] / 100, self.cleaned_data["step"]),)


class BaredForm(LogForm):
    """Stripped to the metal, and how."""

    how = forms.ChoiceField(
        label="By", choices=[("", "not told"), *((k, w.name) for k, w in WAYS.items())], required=False
    )
    order = ("how",)


class DegreasedForm(LogForm):
    """Wiped."""

    product = forms.ModelChoiceField(None, label="With", required=False)
    order = ("product",)

    def __init__(self, *args, products, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["product"].queryset = products


class KeyedForm(LogForm):
    """Abraded."""

    grit = forms.RegexField(
        r"^\s*[Pp]\d{2,4}\s*$", label="Grit", error_messages={"invalid": "write a FEPA grade, as in P120"}
    )
    um_off = QuantityField("film", 0, 5000, label="Film taken off", initial=0.0)
    order = ("grit", "um_off")

    def clean_grit(self):
        return self.cleaned_data["grit"].strip().upper()


class MovedForm(LogForm):
    """To another place."""

    place = forms.ModelChoiceField(None, label="To", empty_label=None)
    whole_job = forms.BooleanField(label="The whole job, all its zones", required=False)
    order = ("place", "whole_job")

    def __init__(self, *args, places, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["place"].queryset = places
        del self.fields["share"], self.fields["step"]
        if self.correcting:
            del self.fields["whole_job"]

    def zones(self):
        more = self.zone.job.zones.in_use() if self.cleaned_data.get("whole_job") else [self.zone]
        return tuple((zone, 1.0, "") for zone in more)


class PreppedForm(LogForm):
    """Acid prep put on, to be kept wet."""

    product = forms.ModelChoiceField(None, label="With", empty_label=None)
    order = ("product",)

    def __init__(self, *args, products, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["product"].queryset = products


class WholeForm(LogForm):
    """Something that always concerns the whole zone."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        del self.fields["share"]

    def zones(self):
        return ((self.zone, 1.0, self.cleaned_data.get("step", "")),)


class UnplannedForm(WholeForm):
    """Something that is no step of a plan."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        del self.fields["step"]


class WettedForm(UnplannedForm):
    """Wetted again."""


class RinsedForm(WholeForm):
    """Rinsed with water."""


class CheckedForm(UnplannedForm):
    """What somebody saw or felt."""

    said = forms.ChoiceField(
        label="What is seen or felt",
        choices=[(f"{key}:{n}", word) for key, c in CHECKS.items() for n, word in ((1, c.passes), (0, c.fails))],
        widget=forms.RadioSelect,
    )
    order = ("said",)


class InspectedForm(WholeForm):
    """Welds and holes looked through."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for key, point in POINTS.items():
            choices = [("", "not looked at"), *((answer, word(key, answer)) for answer in answers_of(key))]
            self.fields[key] = forms.ChoiceField(label=point.name, choices=choices, required=False, widget=forms.RadioSelect, help_text=f"A fault: {point.remedy}.")  # fmt: skip
        self.order_fields([*POINTS, *(name for name in self.fields if name not in POINTS)])

    def clean(self):
        data = super().clean()
        try:
            data["points"] = check({key: data.get(key, "") for key in POINTS})
        except InspectionError as error:
            self.add_error(error.field, str(error))
        return data


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


class AwayForm(WholeForm):
    """Sent to a contractor, or the contractor comes here; what was looked after before."""

    contractor = forms.CharField(label="To whom", max_length=80)
    trade = forms.ChoiceField(
        label="What kind of work", choices=[(k, t.name) for k, t in TRADES.items()], required=False
    )
    work = forms.CharField(label="For what", max_length=120, help_text="Dip, blast, powder, dents")
    visit = forms.BooleanField(label="They come here", required=False)
    due = forms.DateField(label="Due back", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    send_off = forms.MultipleChoiceField(
        label="Looked after before it goes", choices=list(SEND_OFF.items()), required=False, widget=forms.CheckboxSelectMultiple
    )  # fmt: skip
    condition = forms.CharField(label="Condition out", max_length=200, required=False, help_text="Dents, thin spots, what is marked where")  # fmt: skip
    also = forms.ModelMultipleChoiceField(
        None, label="Goes with it", required=False, widget=forms.CheckboxSelectMultiple, help_text="They come back together."
    )  # fmt: skip
    order = ("contractor", "trade", "work", "visit", "due", "send_off", "condition", "also")

    def __init__(self, *args, others, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["also"].queryset = others
        if self.correcting or not others.exists():
            del self.fields["also"]

    def clean_trade(self):
        return self.cleaned_data["trade"] or "other"

    def zones(self):
        return (*super().zones(), *((zone, 1.0, "") for zone in self.cleaned_data.get("also", ())))


class BackForm(WholeForm):
    """Back from a contractor: in what state, and what is to be done again."""

    came = forms.ChoiceField(
        label="It comes back",
        choices=list(CAME_BACK.items()),
        widget=forms.RadioSelect,
        initial="as-sent",
        required=False,
    )
    primer = forms.CharField(
        label="Temporary primer or coat", max_length=60, required=False, help_text="Of what kind: wash primer, one-pack, shop zinc, powder black"
    )  # fmt: skip
    condition = forms.CharField(label="Condition", max_length=200, required=False, help_text="Dents, what has come loose, what was blasted thin")  # fmt: skip
    rework = forms.CharField(label="To be done again", max_length=200, required=False, help_text="It stays open as a finding until it is verified.")  # fmt: skip
    order = ("came", "primer", "condition", "rework")

    def clean_came(self):
        return self.cleaned_data["came"] or "as-sent"

    def clean(self):
        data = super().clean()
        if data.get("came") in {"temporary", "coated"} and not data.get("primer"):
            self.add_error("primer", "say of what kind it is; “not told” if they do not know")
        return data


class AccessForm(WholeForm):
    """Opened, fitted on trial, taken off again, closed."""

    how = forms.ChoiceField(label="What happened", choices=Access.How.choices)
    what = forms.CharField(label="Which part", max_length=120, required=False)
    order = ("how", "what")


class DoneForm(WholeForm):
    """A step of the plan that leaves no film is done."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["step"].choices = self.fields["step"].choices[1:] or [("", "No such step in the plan")]
        self.fields["step"].required = True
        self.fields["step"].error_messages["required"] = (
            "choose a step of the plan; add it on Build-up if it is not there"
        )


class CoatForm(LogForm):
    """A coat, from a pot or straight from a tin or can."""

    source = forms.ChoiceField(label="From")
    batch = forms.CharField(
        label="Batch of the tin or can", required=False, max_length=40, help_text="A pot knows its own."
    )
    use_by = forms.DateField(label="Use by", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    method = forms.ChoiceField(label="Method", choices=METHODS)
    thinner_pct = QuantityField("percent", 0, 100, label="Thinner", initial=0.0)
    wft_um = FilmsField(label="Wet film readings", required=False, help_text="By comb, spaces between: 110 120 115")
    air_c = QuantityField("temperature", -30, 60, label="Air", required=False)
    rh_pct = QuantityField("percent", 0.1, 100, label="Humidity", required=False)
    surface_c = QuantityField("temperature", -30, 90, label="Surface", required=False)
    order = (
        "source",
        "step",
        "began",
        "ended",
        "method",
        "share",
        "wft_um",
        "air_c",
        "rh_pct",
        "surface_c",
        "batch",
        "use_by",
        "thinner_pct",
    )

    def __init__(self, *args, sources, others=(), **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["source"].choices = sources
        self.others = list(others)
        for zone in self.others:
            name = f"also_{zone.pk}"
            self.fields[name] = QuantityField(
                "percent", 0, 100, label=f"Also {zone.name}", required=False, help_text="Share covered, blank: not"
            )
            self.fields[name].system = self.workshop.units

    def also_fields(self):
        """Bound fields of the other zones."""
        return [self[f"also_{zone.pk}"] for zone in self.others]

    def own_fields(self):
        """Bound fields to show, but for those of other zones."""
        return [f for f in self.visible_fields() if not f.name.startswith("also_")]

    def also_typed(self):
        """True if another zone has a share or an error."""
        return any(f.errors or f.value() for f in self.also_fields())

    def clean(self):
        data = super().clean()
        if (data.get("air_c") is None) != (data.get("rh_pct") is None):
            self.add_error("rh_pct" if data.get("rh_pct") is None else "air_c", "air and humidity are logged together")
        return data

    def zones(self):
        more = [
            (z, self.cleaned_data[f"also_{z.pk}"] / 100, "")
            for z in self.others
            if self.cleaned_data.get(f"also_{z.pk}")
        ]
        return (*super().zones(), *more)


class PotForm(WorkshopForm):
    """A pot to mix."""

    ready_ml = QuantityField("volume", 1, 200000, label="Ready to use")
    method = forms.ChoiceField(label="Method", choices=METHODS)
    thinner_pct = QuantityField("percent", 0, 100, label="Thinner")
    variant = forms.ChoiceField(label="Ratio")
    vessel_ml = QuantityField("volume", 10, 200000, label="Pot holds", required=False)
    diameter_mm = QuantityField(
        "length",
        10,
        2000,
        label="Pot, inner diameter",
        required=False,
        help_text="For stick marks in a straight-sided pot",
    )

    def __init__(self, *args, variants, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["variant"].choices = variants


class WeighForm(WorkshopForm):
    """What the scale shows, and the batch that was poured."""

    part = forms.CharField(widget=forms.HiddenInput)
    scale_g = QuantityField(
        "mass",
        0.1,
        200000,
        label="On the scale",
        widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"}),
    )
    batch = forms.CharField(label="Batch", required=False, max_length=40)
    use_by = forms.DateField(label="Use by", required=False, widget=forms.DateInput(attrs={"type": "date"}))


class StepsForm(WorkshopForm):
    """A build-up's films, coats and methods, all steps at once."""

    based_on = forms.IntegerField(widget=forms.HiddenInput)

    def __init__(self, *args, steps, **kwargs):
        self.steps = steps
        super().__init__(*args, **kwargs)
        for step in steps:
            for name, field in self._fields_of(step).items():
                self.fields[f"{step.id}-{name}"] = field
                if isinstance(field, QuantityField):
                    field.system = self.workshop.units

    def _fields_of(self, step):
        out = {
            "left_out": forms.CharField(label="Left out because", required=False, max_length=120, initial=step.left_out)
        }
        if STEPS[step.kind].entry == "keyed":
            return {
                "grit": forms.RegexField(
                    r"^\s*([Pp]\d{2,4})?\s*$",
                    label="Grit",
                    required=False,
                    initial=step.grit,
                    error_messages={"invalid": "write a FEPA grade, as in P320"},
                ),
                **out,
            }
        if not STEPS[step.kind].leaves_film:
            return out
        return {
            "coats": forms.IntegerField(label="Coats", min_value=1, max_value=20, initial=step.coats),
            "dft_um": QuantityField("film", 1, 10000, label="Dry film a coat", initial=step.dft_um),
            "sanded_um": QuantityField("film", 0, 10000, label="Blocking takes", initial=step.sanded_um),
            "method": forms.ChoiceField(label="Method", choices=METHODS, initial=step.method),
            "thinner_pct": QuantityField("percent", 0, 100, label="Thinner", initial=step.thinner_pct),
            **out,
        }

    def rows(self):
        """(step, its bound fields) in order."""
        return [
            (step, {name.split("-", 1)[1]: self[name] for name in self.fields if name.startswith(f"{step.id}-")})
            for step in self.steps
        ]

    def read_steps(self):
        """The steps as typed: dicts for the service. Fields with errors keep their old values."""
        result = []
        for step in self.steps:
            data = dict(vars(step))
            for name in list(data):
                value = self.cleaned_data.get(f"{step.id}-{name}")
                if value is not None:
                    data[name] = value.strip().upper() if name == "grit" else value
            result.append(data)
        return result


class MissedForm(WorkshopForm):
    """Which version of the plan the keying is put into."""

    based_on = forms.IntegerField(widget=forms.HiddenInput)
