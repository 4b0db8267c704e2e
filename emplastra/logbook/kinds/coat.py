"""A coat, from a pot or straight from a tin or can; its page is its own, since it shows what the coat comes to."""

from django import forms
from django.db import models

from emplastra.climate.models import Reading
from emplastra.core.product.film import METHODS, Film, FilmEvidence, fact_film
from emplastra.core.surface import events
from emplastra.core.words import celsius_q, film_q
from emplastra.core.working import Basis, Figure
from emplastra.materials.models import Product, SheetRevision
from emplastra.shared.fields import QuantityField, day_input
from emplastra.store.models import Tin

from ..entry import Entry
from ..forms import FilmsField, LogForm
from ..kind import REDUCERS, Detail, EntryKind, of_entry


class Coat(Detail):
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

    later = ("method", "air_c", "rh_pct", "surface_c", "use_by", "thinner_pct", "reducer", "note", "anyway")

    def __init__(self, *args, sources, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["source"].choices = sources

    def clean(self):
        data = super().clean()
        if (data.get("air_c") is None) != (data.get("rh_pct") is None):
            self.add_error("rh_pct" if data.get("rh_pct") is None else "air_c", "air and humidity are logged together")
        return data


def film_from(sheet, variant, plan_um, thinner_pct, wft_um):
    """The film a coat left, from the best evidence, and the solids [%] behind it (None: plan only).

    plan_um: None where none is planned; 0 of coats logged before that was kept so.
    """
    solids = sheet.solids_pct(variant) if sheet else None
    known = solids if isinstance(solids, Figure) else None
    film = fact_film(FilmEvidence(plan_um or None, known, thinner_pct, comb_um=wft_um))
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
    columns = ("product__name", "revision_id", "variant", "plan_um", "thinner_pct", "wft_um", "surface_c")
    related = ("coat__product", "coat__revision", "coat__reading", "coat__tin")
    work = "colour"

    def event(self, common, told, sheets):
        sheet = sheets.get(told["revision_id"])
        variant = sheet.variant(told["variant"]) if sheet else None
        film, _ = film_from(sheet, variant, told["plan_um"], told["thinner_pct"], told["wft_um"])
        return events.Coated(*common, sheet=sheet, film=film, product=told["product__name"])

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
