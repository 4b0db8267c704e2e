"""Jobs, zones and the shapes they are measured in."""

from django import forms

from emplastra.core.gauge.accept import STANDARDS
from emplastra.core.piece import areas
from emplastra.core.units import UnitError, parse_number, parse_product, parse_quantity
from emplastra.shared import asked
from emplastra.shared.fields import QuantityField, WorkshopForm, day_input

from .models import Job, ZoneRevision

SHAPE_ROWS = 6


class JobForm(WorkshopForm):
    """The piece."""

    name = forms.CharField(label="Piece", max_length=80)
    owner_label = forms.CharField(label="For", max_length=80, required=False)
    standard = forms.ChoiceField(label="Standard", choices=Job.Standard.choices)
    promised = forms.DateField(label="Promised", required=False, widget=day_input())
    film_by = forms.ChoiceField(label="Film judged by", choices=list(STANDARDS.items()), required=False)
    road = forms.BooleanField(
        label="A road vehicle", required=False, help_text="Then its pots are held against the limits on solvent"
    )


class NameForm(WorkshopForm):
    """A name for a copy."""

    name = forms.CharField(label="Name of the copy", max_length=80)


def shape_fields(kind):
    """[(suffix, label)] of the dimensions of a kind of shape."""
    return [(suffix, label) for suffix, (_, label, _) in zip("abc", areas.SHAPES[kind].dims, strict=False)]


def _dimension(key, text, default_unit):
    """One dimension: degrees, m2, or mm."""
    if key == "angle":
        try:
            return parse_number(text.replace("°", ""))
        except UnitError as error:
            raise ValueError from error
    if key == "m2":
        return parse_quantity(text, "area", "sq ft" if default_unit == "in" else "m2").value
    return parse_quantity(text, "length", default_unit).value


def read_shape(kind, texts, count_text, default_unit, less=False):
    """A stored shape from what was typed: (shape, {suffix: error}). less: it is an opening, taken off.

    texts: by suffix a, b, c. A flat sheet may be typed whole in its first field, "2 ft x 350 mm".
    """
    dims, errors = _dimensions(kind, texts, default_unit)
    shape = {"kind": kind, "dims": dims, "count": asked.whole(count_text, 1, 10_000) or 0}
    if less:
        shape["less"] = True
    if not errors:
        try:
            areas.area_m2(kind, dims, shape["count"])
        except areas.ShapeError as error:
            fields = {key: s for s, (key, _, _) in zip("abc", areas.SHAPES[kind].dims, strict=False)}
            errors[{**fields, "count": "count"}.get(error.field, "a")] = str(error)
    return shape, errors


def _dimensions(kind, texts, default_unit):
    """({dimension: mm or degrees}, {suffix: error}) of what was typed."""
    dims, errors = {}, {}
    first = texts.get("a", "").strip()
    if kind == "flat" and first and not texts.get("b", "").strip():
        try:
            dims["length"], dims["width"] = parse_product(first, default_unit)
        except UnitError as error:
            errors["a"] = f"{error} (or give length and width apart)"
        return dims, errors
    for suffix, (key, label, _) in zip("abc", areas.SHAPES[kind].dims, strict=False):
        try:
            dims[key] = _dimension(key, texts.get(suffix, "").strip(), default_unit)
        except UnitError as error:
            errors[suffix] = f"{label}: {error}"
        except ValueError:
            errors[suffix] = f"{label}: write degrees, as in 90"
    return dims, errors


def _shown(key, value):
    """A stored dimension as it stands in its field; an area in full, so that saving it again changes nothing."""
    return f"{value!r} m²" if key == "m2" else f"{value:g}" + ("" if key == "angle" else " mm")


class ZoneForm(WorkshopForm):
    """A surface: what it is made of, its form, its class and its shapes."""

    name = forms.CharField(label="Zone", max_length=80, help_text="For example: cab side, left, outer")
    panel = forms.CharField(label="Panel", max_length=60, required=False)
    substrate = forms.ChoiceField(label="Substrate", choices=ZoneRevision._meta.get_field("substrate").choices)
    thickness_mm = QuantityField("length", 0.05, 500, label="Thickness")
    form = forms.ChoiceField(label="Form", choices=ZoneRevision._meta.get_field("form").choices)
    profile = forms.ChoiceField(
        label="Profile", choices=ZoneRevision._meta.get_field("profile").choices, initial="sanded"
    )
    finish_class = forms.ChoiceField(label="Finish class", choices=ZoneRevision.Finish.choices)
    wetted_faces = forms.TypedChoiceField(
        label="Faces in the air", choices=[(2, "both"), (1, "one")], coerce=int, initial=2
    )
    part = forms.ChoiceField(
        label="Form of part", choices=ZoneRevision._meta.get_field("part").choices, initial="skin", required=False
    )
    end_state = forms.ChoiceField(label="Ends", choices=ZoneRevision.End.choices, required=False)
    colour_group = forms.CharField(
        label="Colour group",
        max_length=40,
        required=False,
        help_text="Faces that must match get one name: cab, doors",
    )
    reason = forms.CharField(label="Why are the measures changed?", max_length=200)
    measures = (
        "substrate",
        "thickness_mm",
        "form",
        "part",
        "profile",
        "finish_class",
        "end_state",
        "wetted_faces",
        "colour_group",
    )

    def __init__(self, *args, ask_reason=False, shapes=(), typing=False, **kwargs):
        """typing: it is still being typed, so that a shape with a blank side is unfinished and not wrong."""
        super().__init__(*args, **kwargs)
        self.first_shapes, self.typing = list(shapes), typing
        if not ask_reason:
            del self.fields["reason"]
        self.shapes, self.shape_errors = [], {}

    @property
    def length_unit(self):
        """Unit of a length typed with none."""
        return self.fields["thickness_mm"].unit

    def shape_rows(self):
        """Rows for the template: number, kind, values and errors by suffix, labels."""
        if self.is_bound:
            rows = [self._typed_row(n) for n in range(SHAPE_ROWS) if f"shape{n}-kind" in self.data]
            if self.data.get("look") == "shape" and len(rows) < SHAPE_ROWS:
                free = next(n for n in range(SHAPE_ROWS) if f"shape{n}-kind" not in self.data)
                rows.append(shape_row(free, "flat"))
        else:
            rows = [self._stored_row(n, s) for n, s in enumerate(self.first_shapes)]
        return rows or [shape_row(0, "flat")]

    def _typed_row(self, n):
        kind = self.data.get(f"shape{n}-kind", "flat")
        kind = kind if kind in areas.SHAPES else "flat"
        values = {s: self.data.get(f"shape{n}-{s}", "") for s in ("a", "b", "c", "count", "less")}
        return shape_row(n, kind, values, self.shape_errors.get(n, {}))

    def _stored_row(self, n, shape):
        keys = [key for key, _, _ in areas.SHAPES[shape["kind"]].dims]
        values = {s: _shown(k, shape["dims"][k]) for s, k in zip("abc", keys, strict=False)}
        return shape_row(
            n, shape["kind"], values | {"count": str(shape.get("count", 1)), "less": "on" if shape.get("less") else ""}
        )

    def clean_part(self):
        return self.cleaned_data["part"] or "other"

    def clean_end_state(self):
        return self.cleaned_data["end_state"] or ZoneRevision.End.COATED

    def clean(self):
        data = super().clean()
        self.shapes, self.shape_errors = [], {}
        for n in range(SHAPE_ROWS):
            row = self._typed_row(n)
            if f"shape{n}-kind" in self.data and any(row["values"][s].strip() for s in "abc"):
                self._take_row(n, row["kind"], row["values"])
        if self.shapes and not self.shape_errors:
            try:
                self.area_m2()
            except areas.ShapeError as error:
                self.shape_errors[0] = {"a": str(error)}
        if self.shape_errors:
            raise forms.ValidationError(
                "Shapes: " + "; ".join(e for row in self.shape_errors.values() for e in row.values())
            )
        if not self.shapes:
            raise forms.ValidationError("Shapes: measure at least one, for example 2 ft x 350 mm")
        return data

    def _take_row(self, n, kind, values):
        """A shape as typed; one still being typed is left alone."""
        less = bool(values["less"])
        shape, errors = read_shape(kind, values, values["count"] or "1", self.length_unit, less)
        if errors and self.typing and any(not values[suffix].strip() for suffix, _ in shape_fields(kind)):
            return
        self.shapes.append(shape)
        if errors:
            self.shape_errors[n] = errors

    def area_m2(self):
        """Area of the shapes as typed [m2]."""
        return areas.total_area_m2(self.shapes)


def shape_row(n, kind, values=None, errors=None):
    """One row of shapes for the template."""
    values = {"a": "", "b": "", "c": "", "count": "1", "less": "", **(values or {})}
    dims = [(suffix, label, values[suffix], (errors or {}).get(suffix, "")) for suffix, label in shape_fields(kind)]
    return {
        "n": n,
        "kind": kind,
        "values": values,
        "dims": dims,
        "formula": areas.SHAPES[kind].formula,
        "kinds": [(k, s.name) for k, s in areas.SHAPES.items() if k in {*areas.TYPED, kind}],
        "count_error": (errors or {}).get("count", ""),
    }
