"""A pot as begun; its page is its own."""

from django.db import models
from django.db.models import Q

from emplastra.core.product.mixing import Measure
from emplastra.core.words import celsius_q, volume_q
from emplastra.materials.models import SheetRevision

from ..kind import REDUCERS, Detail, EntryKind, of_entry


class Pot(Detail):
    """A pot as begun: its sheet is fixed here. Wanted is a volume, or a mass where no density is told."""

    MEASURES = [(Measure.SCALE.value, "on the scale"), (Measure.CUP.value, "by the marks of a cup")]

    entry = of_entry("pot")
    revision = models.ForeignKey(SheetRevision, on_delete=models.PROTECT, related_name="+")
    variant = models.CharField(max_length=40)
    method = models.CharField(max_length=12)
    thinner_pct = models.FloatField(default=0.0)
    reducer = models.CharField(max_length=8, blank=True, choices=REDUCERS)
    measure = models.CharField(max_length=5, choices=MEASURES, default=Measure.SCALE.value)
    ready_ml = models.FloatField(null=True)
    ready_g = models.FloatField(null=True)
    temp_c = models.FloatField()
    diameter_mm = models.FloatField(null=True)
    vessel_ml = models.FloatField(null=True)

    @property
    def wanted(self):
        """What is wanted ready to use, in words."""
        return f"{self.ready_g:g} g" if self.ready_ml is None else volume_q(self.ready_ml)


class Kind(EntryKind):
    key, label, order = "pot", "Pot begun", 60
    of_pot = True
    row, related = Pot, ("pot__revision__product",)

    def dependants(self, entry):
        return Q(weighed__pot=entry) | Q(coat__pot=entry) | Q(pot_ended__pot=entry) | Q(pot_changed__pot=entry)

    def tell(self, entry, context):
        pot = context.pots[entry.pk]
        names = {part.key: part.name for part in pot.ratios}
        facts = [
            ("ratio", f"{pot.variant.ratio_text} by {pot.variant.by}, {pot.variant.name}"),
            ("wanted", f"{pot.pot.wanted} ready to use at {celsius_q(pot.pot.temp_c, digits=1)}"),
        ]
        if pot.measure is Measure.CUP:
            facts.append(("measured", "by the marks of a cup"))
        if pot.pot.reducer:
            facts.append(("thinned with", dict(REDUCERS)[pot.pot.reducer]))
        facts += [
            (part.name, f"{pot.amounts[part.key]:.1f} {pot.unit}") for part in pot.ratios if part.key in pot.amounts
        ]
        facts += [(f"{names[d.key]} off by", f"{d.pct:+.1f} %".replace("-", "−")) for d in pot.balance.deviations]
        return f"Pot of {pot.sheet.product}", facts
