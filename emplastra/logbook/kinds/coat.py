"""A coat, from a pot or straight from a tin or can; its page is its own, since it shows what the coat comes to."""

from dataclasses import replace

from django import forms
from django.db import models

from emplastra.climate.models import Reading
from emplastra.core.errors import FieldError
from emplastra.core.product.film import METHODS, Film, FilmEvidence, fact_film
from emplastra.core.surface import events
from emplastra.core.survey.topics import TOPICS
from emplastra.core.words import celsius_q, film_q, length_q, pressure_q, volume_q
from emplastra.core.working import Basis, Figure
from emplastra.jobs import surveying
from emplastra.materials.models import Product, SheetRevision
from emplastra.shared.fields import QuantityField, day_input
from emplastra.store.models import Tin

from ..entry import Entry
from ..forms import FilmsField, LogForm
from ..kind import REDUCERS, Detail, EntryKind, of_entry

READ_AT = [("gun", "at the gun"), ("regulator", "at the regulator")]
LAID = [("", "not told"), ("stippled", "stippled"), ("laid-off", "laid off")]
LOOKED = frozenset({"cut-through", "spit", "scratch", "shows", "torn"})
"""What is seen later, when it is sanded, looked at with a lamp, or unmasked."""
DEFECTS = {c.key: (c.word, c.hint[0].lower() + c.hint[1:-1]) for c in TOPICS["film"].choices if c.key not in LOOKED}
"""Defects of a coat: what they are called, and what is done. Common practice, no source."""
GUN = ("gun", "tip_mm", "pressure_bar", "read_at", "fan_mm", "cup_s", "passes", "overlap_pct")
"""A set-up of a gun, kept for the next coat of the product."""


class Coat(Detail):
    """A coat as told. used_ml: ready to use, over an area that meets the spray [m2]; before_g, after_g: its pot on the
    scale; gun: what was told of GUN; cans: how many were emptied.
    """

    entry = of_entry("coat")
    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="+")
    revision = models.ForeignKey(SheetRevision, on_delete=models.PROTECT, null=True, related_name="+")
    pot = models.ForeignKey(Entry, on_delete=models.PROTECT, null=True, related_name="coats_from")
    tin = models.ForeignKey(Tin, on_delete=models.PROTECT, null=True, related_name="+")
    variant = models.CharField(max_length=40, blank=True)
    method = models.CharField(max_length=12)
    thinner_pct = models.FloatField(default=0.0)
    reducer = models.CharField(max_length=8, blank=True, choices=REDUCERS)
    wft_um = models.JSONField(default=list)
    plan_um = models.FloatField(null=True)
    reading = models.ForeignKey(Reading, on_delete=models.PROTECT, null=True, related_name="coats")
    surface_c = models.FloatField(null=True)
    used_ml = models.FloatField(null=True)
    used_m2 = models.FloatField(null=True)
    before_g = models.FloatField(null=True)
    after_g = models.FloatField(null=True)
    gun = models.JSONField(default=dict)
    laid = models.CharField(max_length=10, blank=True, choices=LAID)
    cans = models.FloatField(null=True)
    stopped = models.CharField(max_length=120, blank=True)
    defects = models.JSONField(default=list)
    defects_at = models.CharField(max_length=120, blank=True)

    @property
    def used(self):
        """(what was used [mL], over what [m2], by which method), None where it is not told."""
        return (self.used_ml, self.used_m2, self.method) if self.used_ml and self.used_m2 else None


class CoatForm(LogForm):
    """A coat, from a pot or straight from a tin or can."""

    source = forms.ChoiceField(label="From")
    batch = forms.CharField(
        label="Batch of the tin or can", required=False, max_length=40, help_text="A pot knows its own."
    )
    use_by = forms.DateField(label="Use by", required=False, widget=day_input())
    method = forms.ChoiceField(label="Method", choices=[(key, method.name) for key, method in METHODS.items()])
    thinner_pct = QuantityField("percent", 0, 100, label="Thinner", initial=0.0)
    reducer = forms.ChoiceField(label="Thinned with", choices=REDUCERS, required=False)
    wft_um = FilmsField(label="Wet film readings", required=False, help_text="By comb, spaces between")
    air_c = QuantityField("temperature", -30, 60, label="Air", required=False)
    rh_pct = QuantityField("percent", 0.1, 100, label="Humidity", required=False)
    surface_c = QuantityField("temperature", -30, 90, label="Surface", required=False)
    used_ml = QuantityField("volume", 0.1, 200000, label="Used", required=False, help_text="Ready to use")
    before_g = QuantityField("mass", 0.1, 200000, label="Pot on the scale, before", required=False, as_told=True)
    after_g = QuantityField("mass", 0, 200000, label="and after", required=False, as_told=True)
    gun = forms.CharField(label="Gun", max_length=40, required=False)
    tip_mm = QuantityField("length", 0.1, 10, label="Tip", required=False, as_told=True)
    pressure_bar = QuantityField("pressure", 0.1, 400, label="Pressure", required=False)
    read_at = forms.ChoiceField(label="Pressure read", choices=[("", "not told"), *READ_AT], required=False)
    fan_mm = QuantityField("length", 10, 1000, label="Fan", required=False)
    cup_s = forms.FloatField(label="Viscosity cup [s]", min_value=1, max_value=600, required=False)
    passes = forms.IntegerField(label="Passes", min_value=1, max_value=99, required=False)
    overlap_pct = QuantityField("percent", 0, 100, label="Overlap", required=False)
    laid = forms.ChoiceField(label="Brush or roller", choices=LAID, required=False)
    cans = forms.FloatField(label="Cans", min_value=0.1, max_value=99, required=False)
    stopped = forms.CharField(label="Stopped where", max_length=120, required=False)
    defects = forms.MultipleChoiceField(
        label="Seen in it",
        choices=[(key, name) for key, (name, _) in DEFECTS.items()],
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )
    defects_at = forms.CharField(label="Where", max_length=120, required=False)
    order = (
        "source",
        "step",
        "wft_um",
        "share",
        "batch",
        "began",
        "ended",
        "method",
        "air_c",
        "rh_pct",
        "surface_c",
        "use_by",
        "thinner_pct",
        "reducer",
    )

    later = (
        "method",
        "air_c",
        "rh_pct",
        "surface_c",
        "use_by",
        "thinner_pct",
        "reducer",
        "used_ml",
        "before_g",
        "after_g",
        *GUN,
        "laid",
        "cans",
        "stopped",
        "defects",
        "defects_at",
        "note",
        "anyway",
    )

    drawn = forms.CharField(widget=forms.HiddenInput, required=False)

    def __init__(self, *args, sources, grid=None, **kwargs):
        """grid: the face as cells (FaceGrid) on which the share may be drawn; None where it cannot."""
        super().__init__(*args, **kwargs)
        self.fields["source"].choices, self.grid = sources, grid

    def clean_drawn(self):
        """What was drawn, "" where nothing was; its share is what counts."""
        mark = self.cleaned_data["drawn"]
        if not mark or self.grid is None:
            return ""
        try:
            cells = self.grid.read(mark)
        except FieldError as error:
            raise forms.ValidationError(str(error)) from error
        self.drawn_share = 100.0 * self.grid.share(cells)
        return mark if cells else ""

    def clean(self):
        data = super().clean()
        if data.get("drawn"):
            data["share"] = self.drawn_share
        if (data.get("air_c") is None) != (data.get("rh_pct") is None):
            self.add_error("rh_pct" if data.get("rh_pct") is None else "air_c", "air and humidity are logged together")
        before, after = data.get("before_g"), data.get("after_g")
        if (before is None) != (after is None):
            self.add_error("after_g" if after is None else "before_g", "both weights of the pot are told, or neither")
        elif before is not None and after >= before:
            self.add_error("after_g", "must be less than before: what was used is the difference")
        elif before is not None and data.get("used_ml") is not None:
            self.add_error("used_ml", "is told twice: by its volume, and by the weights of the pot")
        if data.get("defects_at") and not data.get("defects"):
            self.add_error("defects", "say what was seen there")
        return data


def _evidence(plan_um, thinner_pct, wft_um, used, solids):
    """What is known of a coat's film (FilmEvidence); used: (what [mL], over what [m2], method), None: not told."""
    known = FilmEvidence(plan_um or None, solids, thinner_pct, comb_um=wft_um)
    if used is None:
        return known
    ml, m2, method = used
    mixed_l = ml / (1000.0 * (1 + thinner_pct / 100))
    return replace(known, litres_mixed=mixed_l, efficiency=METHODS[method].stays, area_m2=m2)


def films_told(sheet, variant, plan_um, thinner_pct, wft_um, used=None):
    """[(by what, Film)] of a coat by each evidence alone that is told: comb, use, plan."""
    found = []
    for name, comb, litres, plan in (
        ("comb", wft_um, None, None),
        ("use", (), used, None),
        ("plan", (), None, plan_um),
    ):
        if comb or litres or plan:
            film, _ = film_from(sheet, variant, plan, thinner_pct, comb, litres)
            found += [(name, film)] if film.dft_um is not None else []
    return found


def film_from(sheet, variant, plan_um, thinner_pct, wft_um, used=None):
    """The film a coat left, from the best evidence, and the solids [%] behind it (None: plan only).

    plan_um: None where none is planned; 0 of coats logged before that was kept so.
    """
    solids = sheet.solids_pct(variant) if sheet else None
    known = solids if isinstance(solids, Figure) else None
    film = fact_film(_evidence(plan_um, thinner_pct, wft_um, used, known))
    if film.basis is Basis.ASSUMED and film.dft_um is not None and known is None:
        return Film(
            film.dft_um, film.basis, "plan; the sheet gives no solids" if sheet else "plan; no data sheet"
        ), None
    return film, known.value if known else None


class Kind(EntryKind):
    key, label, group, order = "coat", "Coat", "film", 50
    lasts = True
    same = ("source", "method", "thinner_pct", "reducer", "batch", "use_by")
    row, form = Coat, CoatForm
    columns = (
        "product__name",
        "revision_id",
        "variant",
        "plan_um",
        "thinner_pct",
        "wft_um",
        "surface_c",
        "used_ml",
        "used_m2",
        "method",
    )
    related = ("coat__product", "coat__revision", "coat__reading", "coat__tin")
    work = "colour"

    def event(self, common, told, sheets):
        sheet = sheets.get(told["revision_id"])
        variant = sheet.variant(told["variant"]) if sheet else None
        used = (told["used_ml"], told["used_m2"], told["method"]) if told["used_ml"] and told["used_m2"] else None
        film, _ = film_from(sheet, variant, told["plan_um"], told["thinner_pct"], told["wft_um"], used)
        of_face = told.get("of_face", 1.0)
        return events.Coated(*common, sheet=sheet, film=film, product=told["product__name"], of_face=of_face)

    def after(self, entry, data, about):
        """What is seen in a coat holds the next one until it is put right; a correction tells only what is new."""
        known = about.entry.coat.defects if about.entry else ()
        found = [(key, data["defects_at"] or "") for key in data["defects"] if key not in known]
        surveying.in_film(about.zone, about.user, found, data["step"], entry.ended)

    def tell(self, entry, context):
        coat = entry.coat
        how = METHODS[coat.method].name if coat.method in METHODS else coat.method
        facts = [
            ("batch", ", ".join(name for name, *_ in context.batches) or "none named"),
            ("method", f"{how}, {coat.thinner_pct:g} % thinner"),
        ]
        if coat.reducer:
            facts.append(("thinned with", dict(REDUCERS)[coat.reducer]))
        if coat.wft_um:
            facts.append(("wet film", film_q(*coat.wft_um, joined=" ")))
        facts += _told_beside(coat)
        air = context.air
        if air is not None:
            said = (
                f"{celsius_q(air.air_c, digits=1)}, {air.rh_pct:.0f} %, dew {celsius_q(air.dew_c, digits=1)}, "
                f"{air.basis.value}"
            )
            facts.append(("air", said))
            if coat.surface_c is not None:
                facts.append(("surface", f"{celsius_q(coat.surface_c, digits=1)} typed"))
        return f"Coat of {coat.product}", facts


def _told_beside(coat):
    """What was told of a coat beside its film and air."""
    seen = [(DEFECTS[key][0].lower(), f"{coat.defects_at or 'seen'}: {DEFECTS[key][1]}") for key in coat.defects]
    told = (
        ("used", coat.used_ml and volume_q(coat.used_ml)),
        *_told_of_gun(coat.gun),
        ("brush", dict(LAID).get(coat.laid) if coat.laid else ""),
        ("cans", coat.cans and f"{coat.cans:g}"),
        ("stopped", coat.stopped),
        *seen,
    )
    return [(name, words) for name, words in told if words]


_SAID_OF_GUN = {
    "gun": ("gun", str),
    "tip_mm": ("tip", length_q),
    "pressure_bar": ("pressure", pressure_q),
    "fan_mm": ("fan", length_q),
    "cup_s": ("cup", "{:g} s".format),
    "passes": ("passes", str),
    "overlap_pct": ("overlap", "{:g} %".format),
}


def _told_of_gun(gun):
    """[(name, words)] of a set-up."""
    at = f" {dict(READ_AT)[gun['read_at']]}" if gun.get("read_at") else ""
    for key, (name, say) in _SAID_OF_GUN.items():
        if gun.get(key):
            yield name, say(gun[key]) + (at if key == "pressure_bar" else "")
