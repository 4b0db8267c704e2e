"""What is typed on the survey's pages."""

from django import forms

from emplastra.core.piece import areas, job_map, meshes
from emplastra.core.piece.parts import LAYOUTS
from emplastra.core.survey.findings import CAUSES
from emplastra.core.survey.topics import EVIDENCE, TOPICS
from emplastra.core.words import area_q
from emplastra.jobs.models import MapPlace, ZoneRevision
from emplastra.shared.fields import QuantityField, WorkshopForm, file_input

CAUSE_CHOICES = [("", "not known yet"), *((k, name) for k, (name, _) in CAUSES.items())]


class SystemField(forms.ChoiceField):
    """A system to adopt, or none yet; cleaned to its newest version."""

    def __init__(self, **kwargs):
        super().__init__(required=False, **kwargs)
        self.versions = {}

    def offer(self, versions):
        """What may be chosen."""
        self.versions = {str(v.pk): v for v in versions}
        self.choices = [("", "later"), *((pk, v.system.name) for pk, v in self.versions.items())]
        if not versions:
            self.help_text = "None is here yet: import one under Materials, or plan step by step later."

    def clean(self, value):
        return self.versions.get(super().clean(value))


class LayoutForm(WorkshopForm):
    """A starter layout and the overall size of the piece."""

    layout = forms.ChoiceField(label="Piece", choices=[(k, name) for k, (name, _) in LAYOUTS.items()])
    length_mm = QuantityField("length", 50, 30000, label="Length")
    width_mm = QuantityField("length", 20, 30000, label="Width")
    height_mm = QuantityField("length", 20, 30000, label="Height")
    substrate = forms.ChoiceField(label="Substrate", choices=ZoneRevision._meta.get_field("substrate").choices)
    thickness_mm = QuantityField("length", 0.05, 500, label="Thickness")
    place = forms.ModelChoiceField(None, label="Stands in", required=False, empty_label="not told")
    system = SystemField(label="System")

    def __init__(self, *args, places, systems, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["place"].queryset = places
        self.fields["system"].offer(systems)


class PlaceForm(WorkshopForm):
    """Where a zone is drawn."""

    names = ("view", "kind", "x", "y", "w", "h", "flip")
    view = forms.ChoiceField(label="View", choices=MapPlace._meta.get_field("view").choices)
    kind = forms.ChoiceField(label="Shape", choices=MapPlace._meta.get_field("kind").choices)
    x = forms.IntegerField(label="Column", min_value=0, max_value=job_map.COLUMNS - 1)
    y = forms.IntegerField(label="Row", min_value=0, max_value=job_map.ROWS - 1)
    w = forms.IntegerField(label="Columns wide", min_value=1, max_value=job_map.COLUMNS)
    h = forms.IntegerField(label="Rows high", min_value=1, max_value=job_map.ROWS)
    flip = forms.BooleanField(label="The other way round", required=False)

    def cells(self):
        """The place as typed or as it was, None while it cannot be."""
        told = self.cleaned_data if self.is_bound and not self.errors else self.initial
        try:
            return job_map.Cells(**{name: told[name] for name in self.names}).check()
        except (KeyError, job_map.PlaceError):
            return None


class NameForm(WorkshopForm):
    name = forms.CharField(label="Zone", max_length=80)


class SplitForm(WorkshopForm):
    first = forms.CharField(label="First part", max_length=80)
    second = forms.CharField(label="Second part", max_length=80)
    share = QuantityField("percent", 1, 99, label="Share of the first")


class JoinForm(WorkshopForm):
    other = forms.ModelChoiceField(None, label="With", empty_label=None)
    name = forms.CharField(label="Name of the one", max_length=80)

    def __init__(self, *args, others, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["other"].queryset = others


class RetireForm(WorkshopForm):
    why = forms.CharField(label="Why", max_length=120, help_text="Cut out and replaced, given back, measured twice")


class SpotOfForm(WorkshopForm):
    parent = forms.ModelChoiceField(None, label="Lies in", empty_label=None)

    def __init__(self, *args, others, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["parent"].queryset = others


class SpotForm(WorkshopForm):
    name = forms.CharField(label="Spot", max_length=80)
    area = QuantityField("area", 1e-6, 1000, label="Area", help_text="120 cm2, 90 x 60 mm, or 18 sq in")
    system = SystemField(label="System")

    def __init__(self, *args, systems, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["system"].offer(systems)


class MeshForm(WorkshopForm):
    """A mesh to measure; `mesh_kind` is what it is."""

    mesh = forms.FileField(label="Mesh", widget=file_input(meshes.MAX_BYTES, accept=".stl,.obj,.ply"))
    mesh_kind = ""

    def clean_mesh(self):
        upload = self.cleaned_data["mesh"]
        head = upload.read(2000)
        upload.seek(0)
        try:
            self.mesh_kind = meshes.kind_of(upload.name, head, upload.size)
        except meshes.MeshError as error:
            raise forms.ValidationError(str(error)) from error
        return upload


class PickForm(WorkshopForm):
    """Which parts of a mesh count, what its unit is, one face of the sheet or both."""

    unit = forms.ChoiceField(label="One unit of the file is", choices=[(k, k) for k in meshes.UNITS_M], initial="mm")
    faces = forms.ChoiceField(
        label="Counts", choices=[("one", "each triangle once"), ("both", "both faces of a sheet without thickness")]
    )
    picked = forms.TypedMultipleChoiceField(
        label="Parts",
        coerce=int,
        widget=forms.CheckboxSelectMultiple,
        error_messages={"required": "pick at least one part"},
    )

    def __init__(self, *args, report, **kwargs):
        super().__init__(*args, **kwargs)
        self.report = report
        parts = report.parts if report else ()
        self.fields["picked"].choices = [(p.number, self._said(p)) for p in parts]

    def _said(self, part):
        if part.number > meshes.LISTED:
            return f"{self.report.together} small parts together"
        size = " × ".join(f"{x:.4g}" for x in part.size)
        return f"Part {part.number}: {size} units, {part.faces:,} faces, {'closed' if part.closed else 'open'}"

    def area_m2(self):
        """Area of what is picked [m2], None while nothing is."""
        told = self.cleaned_data if self.is_bound else self.initial
        try:
            return meshes.area_m2(self.report, told["unit"], set(told["picked"]), told["faces"] == "both")
        except (KeyError, meshes.MeshError):
            return None

    def clean(self):
        data = super().clean()
        area = self.area_m2() if not self.errors else None
        if area is not None and area > areas.MAX_M2:
            self.add_error(
                "unit",
                f"{area_q(area)} is more than {area_q(areas.MAX_M2, digits=0)}: choose a smaller unit",
            )
        return data


class FoundMoreForm(WorkshopForm):
    """Something found later; with an area it becomes a spot."""

    what = forms.ChoiceField(
        label="What", choices=[(c.key, c.word) for c in TOPICS["more"].choices], widget=forms.RadioSelect
    )
    text = forms.CharField(label="Where, how large", max_length=200, required=False)
    evidence = forms.ChoiceField(label="Seen", choices=list(EVIDENCE.items()))
    cause = forms.ChoiceField(label="Cause", choices=CAUSE_CHOICES, required=False)
    step = forms.ChoiceField(label="While", required=False)
    area = QuantityField(
        "area",
        1e-6,
        1000,
        label="Area",
        required=False,
        help_text="With an area it becomes a spot with a log and a stack of its own: 120 cm2, 90 x 60 mm, or 18 sq in",
    )
    spot = forms.CharField(label="Name of the spot", max_length=80, required=False)
    system = SystemField(label="System of the spot")

    def __init__(self, *args, steps, systems, is_spot, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["step"].choices = [("", "not in the plan"), *steps]
        self.fields["system"].offer(systems)
        if is_spot:
            for name in ("area", "spot", "system"):
                del self.fields[name]

    def clean(self):
        data = super().clean()
        for name in ("area", "spot", "system"):
            data.setdefault(name, None)
        if data["area"] and not data["spot"]:
            self.add_error("spot", "a spot needs a name")
        return data
