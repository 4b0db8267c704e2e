"""Naming tins."""

from emplastra.shared import clock

from .models import Tin


def name_batch(product, part, batch, use_by=None, zone=None):
    """The tin of this product, part and batch, made if it is new; a use-by date fills a blank one.

    product: Product; part: component key; zone: the workshop's time zone, for the day it was opened.
    """
    today = clock.now().astimezone(zone).date() if zone else clock.now().date()
    tin, _ = Tin.objects.get_or_create(
        product=product, part=part, batch=batch.strip(), defaults={"use_by": use_by, "opened": today}
    )
    if use_by and tin.use_by is None:
        tin.use_by = use_by
        tin.save(update_fields=["use_by"])
    return tin
