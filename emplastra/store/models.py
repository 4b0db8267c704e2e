"""Tins and cans: what stands on the shelf, by the maker's batch number."""

from django.db import models

from emplastra.materials.models import Product


class Tin(models.Model):
    """A stock item, made by naming its batch. Amounts and buying come later."""

    product = models.ForeignKey(Product, on_delete=models.PROTECT, related_name="tins")
    part = models.CharField(max_length=40)
    batch = models.CharField(max_length=40)
    use_by = models.DateField(null=True, blank=True)
    opened = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["product", "part", "use_by", "id"]
        constraints = [models.UniqueConstraint(fields=["product", "part", "batch"], name="one_tin_per_batch")]

    def __str__(self):
        return f"{self.product}, {self.part}, batch {self.batch}"
