"""What is typed of steps: a build-up's, or a coating system's."""

import re

from django import forms

from emplastra.core.air.lag import SUBSTRATES
from emplastra.core.metal.strip import WAYS
from emplastra.core.product import film
from emplastra.core.rules.registry import SCHOOLS
from emplastra.core.rules.trial import GROUNDS
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.plan import PlanStep
from emplastra.core.surface.ready import ready_groups
from emplastra.core.surface.steps import STEPS
from emplastra.core.surface.system_file import MAX_STEPS
from emplastra.jobs.models import ZoneRevision
from emplastra.shared.fields import QuantityField, WorkshopForm

WAYS_TO_STRIP = [("", "not chosen"), *((key, way.name) for key, way in WAYS.items())]
ON = [("", "the whole"), ("bare", "what was bared")]
METHODS = [(key, method.name) for key, method in film.METHODS.items()]
_ID = re.compile(r"[0-9A-Za-z_-]{1,40}")
ASIDE = ("on", "least", "thinner_pct", "note", "left_out")
"""Fields of a step that stand behind a fold ..."""
SHOWN = ("on", "least", "note", "left_out")
"""... which is open where one of these says something."""


def steps_sent(data, stored):
    """PlanSteps as a form sends them, in its order: the stored ones, and new ones of the kinds that it names. The
    stored ones where it sends none.
    """
    known = {step.id: step for step in stored}
    if not data.get("order"):
        return list(stored)
    keys = list(dict.fromkeys(key for key in data["order"].split(",") if _ID.fullmatch(key)))[:MAX_STEPS]
    kinds = {key: known[key].kind if key in known else data.get(f"{key}-kind", "") for key in keys}
    return [known.get(key) or PlanStep(key, kind) for key, kind in kinds.items() if kind in STEPS]


class StepsForm(WorkshopForm):
    """All steps at once: films, coats, methods, grits. Its order and its kinds are sent with it."""

    based_on = forms.IntegerField(widget=forms.HiddenInput)
    order = forms.CharField(widget=forms.HiddenInput, required=False)
    can_leave_out = True

    def __init__(self, *args, steps, products, arrange, **kwargs):
        """steps: PlanSteps in their order; products: {kind of step: names}; arrange: where a change of them is sent."""
        self.steps, self.products, self.arrange = steps, products, arrange
        super().__init__(*args, **kwargs)
        self.fields["order"].initial = self.order_of()
        for step in steps:
            for name, field in self._fields_of(step).items():
                self.fields[f"{step.id}-{name}"] = field
                if isinstance(field, QuantityField):
                    field.system = self.workshop.units

    def order_of(self):
        """Ids of its steps with commas between."""
        return ",".join(step.id for step in self.steps)

    def _fields_of(self, step):
        traits, found = STEPS[step.kind], {}
        found["kind"] = forms.CharField(widget=forms.HiddenInput, required=False, initial=step.kind)
        if traits.products:
            found["product"] = self._product(step)
        if traits.entry == "keyed":
            found["grit"] = _grit(step)
        if step.kind == StepKind.STRIP:
            found["way"] = forms.ChoiceField(label="By", choices=WAYS_TO_STRIP, required=False, initial=step.way)
        if traits.leaves_film:
            found |= _film_fields(step) | _part_fields(step)
        found["note"] = forms.CharField(label="Note", required=False, max_length=200, initial=step.note)
        if self.can_leave_out:
            label = "Left out because"
            found["left_out"] = forms.CharField(label=label, required=False, max_length=120, initial=step.left_out)
        return found

    def _product(self, step):
        """Products that a step may take; another one brings its own film, coats and thinner along."""
        names = list(dict.fromkeys([step.product, *self.products.get(step.kind, ())]))
        change = {"hx-post": self.arrange, "hx-vals": f'{{"do": "sheet:{step.id}"}}', "hx-trigger": "change"}
        return forms.ChoiceField(
            label="Product",
            choices=[(n, n or "none") for n in names],
            initial=step.product,
            required=False,
            widget=forms.Select(attrs=change if STEPS[step.kind].leaves_film else {}),
            error_messages={"invalid_choice": "%(value)s is not on the shelf, or no longer: choose another"},
        )

    def rows(self):
        """(step, its bound fields in view, those behind a fold, whether the fold is open) in order."""
        found = []
        for step in self.steps:
            prefix = f"{step.id}-"
            fields = {n.removeprefix(prefix): self[n] for n in self.fields if n.startswith(prefix)}
            kind = fields.pop("kind")
            aside = {name: fields.pop(name) for name in ASIDE if name in fields}
            told = [
                f for name, f in aside.items() if f.errors or (name in SHOWN and f.value() not in (None, "", False))
            ]
            is_open = bool(told)
            found.append((step, kind, fields, aside, is_open))
        return found

    def read_steps(self):
        """The steps as typed: dicts for the service. Fields with errors keep their old values."""
        result = []
        for step in self.steps:
            data = dict(vars(step))
            for name in list(data):
                key = f"{step.id}-{name}"
                value = self.cleaned_data.get(key)
                emptied = value is None and key in self.cleaned_data and not self.fields[key].required
                if name != "kind" and (value is not None or emptied) and (key in self.data or isinstance(value, bool)):
                    data[name] = _stored(name, value)
            result.append(data)
        return result


def _stored(name, value):
    """A value as a step keeps it; a measure that was emptied is none."""
    if name == "grit":
        return value.strip().upper()
    return 0.0 if value is None and name in {"area_m2", "length_mm", "width_mm"} else value


def _grit(step):
    return forms.RegexField(
        r"^\s*([Pp]\d{2,4})?\s*$",
        label="Grit",
        required=False,
        initial=step.grit,
        error_messages={"invalid": "write a FEPA grade, as in P320"},
    )


def _film_fields(step):
    """Fields of a step that leaves film."""
    label = {StepKind.SOLDER: "Depth", StepKind.FILL: "Depth a coat"}.get(step.kind, "Dry film a coat")
    return {
        "coats": forms.IntegerField(label="Coats", min_value=1, max_value=20, initial=step.coats),
        "dft_um": QuantityField("film", 1, 10000, label=label, initial=step.dft_um, required=False),
        "sanded_um": QuantityField("film", 0, 10000, label="Blocking takes", initial=step.sanded_um),
        "method": forms.ChoiceField(label="Method", choices=METHODS, initial=step.method),
        "on": forms.ChoiceField(label="On", choices=ON, initial=step.on, required=False),
        "least": forms.BooleanField(label="As a minimum", required=False, initial=step.least),
        "thinner_pct": QuantityField("percent", 0, 100, label="Thinner", initial=step.thinner_pct),
    }


def _part_fields(step):
    """Measures of a step that is for a part of a face, or for its edges and joints."""
    if step.kind in {StepKind.STRIPE, StepKind.SOLDER}:
        label = "Edges in all" if step.kind == StepKind.STRIPE else "Joint in all"
        return {
            "length_mm": QuantityField("length", 0, 1e6, label=label, initial=step.length_mm or None, required=False),
            "width_mm": QuantityField("length", 0, 1000, label="Wide", initial=step.width_mm or None, required=False),
        }
    if step.kind == StepKind.FILL or step.on:
        return {"area_m2": QuantityField("area", 0, 1000, label="Over", initial=step.area_m2 or None, required=False)}
    return {}


class SystemForm(StepsForm):
    """A coating system: its steps, where it fits, whose way it is, why its order is so."""

    can_leave_out = False
    name = forms.CharField(label="Name", max_length=80)
    group = forms.CharField(label="Stands under", max_length=40, required=False)
    school = forms.CharField(label="School", max_length=80, required=False, help_text="Whose way it is, in words")
    where = forms.CharField(label="Where it fits", max_length=300, required=False, widget=forms.Textarea({"rows": 2}))
    why = forms.CharField(
        label="Why this order",
        required=False,
        max_length=2000,
        widget=forms.Textarea({"rows": 4}),
        help_text="A sentence a line",
    )
    max_total_um = QuantityField("film", 1, 100000, label="All layers at most", required=False)
    substrates = forms.MultipleChoiceField(
        label="Made for",
        required=False,
        choices=[(key, told[0]) for key, told in SUBSTRATES.items()],
        widget=forms.CheckboxSelectMultiple,
    )
    finishes = forms.MultipleChoiceField(
        label="Finish", required=False, choices=ZoneRevision.Finish.choices, widget=forms.CheckboxSelectMultiple
    )
    rust = forms.BooleanField(label="For tight rust that stays", required=False)
    ground = forms.ChoiceField(label="Looked at on", choices=[(g.key, g.name) for g in GROUNDS], required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["group"].widget.attrs["list"] = "groups"
        self.groups = ready_groups()
        for question, (words, answers) in SCHOOLS.items():
            choices = [("", "as the workshop"), *answers.items()]
            self.fields[f"school-{question}"] = forms.ChoiceField(label=words, choices=choices, required=False)
            self.fields[f"school-{question}"].initial = (self.initial.get("schools") or {}).get(question, "")

    def fits_fields(self):
        """Bound fields of what it is made for."""
        return [self["substrates"], self["finishes"]]

    def schools(self):
        """Bound fields of the answers it takes for granted."""
        return [self[f"school-{question}"] for question in SCHOOLS]

    def answers(self):
        """{question: answer} that it takes for granted, as typed."""
        told = {question: self[f"school-{question}"].value() for question in SCHOOLS}
        return {q: a for q, a in told.items() if a in SCHOOLS[q][1]}

    def clean_why(self):
        """Its sentences."""
        lines = [line.strip() for line in self.cleaned_data["why"].splitlines() if line.strip()]
        if len(lines) > 12:
            raise forms.ValidationError("at most 12 lines, a sentence each")
        if any(len(line) > 300 for line in lines):
            raise forms.ValidationError("at most 300 characters a line")
        return lines
