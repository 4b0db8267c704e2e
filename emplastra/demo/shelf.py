"""The demo's store: tins that came in before the week began, some opened, one nearly out of date."""

from datetime import date
from decimal import Decimal

from emplastra.core.buying.stock import Happened
from emplastra.materials.models import Product
from emplastra.scales.models import STAND_IN, Scale
from emplastra.store.services import Came, take_in, tell

from .teller import EPOXY, SURFACER

#: (product, part, batch, how many, size, unit, price, use by, kit)
TINS = (
    (EPOXY, "base", "E-0417", 1, 4000.0, "mL", "96.00", date(2027, 3, 31), "E-0417+EH-2203"),
    (EPOXY, "hardener-mild", "EH-2203", 1, 1000.0, "mL", "38.00", date(2027, 1, 31), "E-0417+EH-2203"),
    (EPOXY, "base", "E-0431", 1, 4000.0, "mL", "96.00", date(2027, 6, 30), "E-0431+EH-2210"),
    (EPOXY, "hardener-mild", "EH-2210", 1, 1000.0, "mL", "38.00", date(2027, 6, 30), "E-0431+EH-2210"),
    (EPOXY, "thinner", "T-118", 1, 5000.0, "mL", "29.50", None, ""),
    (SURFACER, "base", "S-3310", 2, 3000.0, "mL", "71.00", date(2027, 2, 28), ""),
    (SURFACER, "hardener", "SH-077", 1, 1000.0, "mL", "33.00", date(2026, 12, 31), ""),
    ("Base coat, oxide red", "base", "R-5521", 2, 1000.0, "mL", "54.00", date(2027, 9, 30), ""),
    ("Clear coat, 2:1", "base", "C-901", 1, 1000.0, "mL", "42.00", date(2027, 1, 31), ""),
    ("Clear coat, 2:1", "base", "C-844", 1, 1000.0, "mL", "40.00", date(2026, 4, 30), ""),
)


def fill_shelf(user, place, at):
    """Take the demo's tins in at a moment, in a place; one was looked into since."""
    Scale.objects.create(name="Bench scale, played", address=STAND_IN)
    Scale.objects.create(name="Film gauge, played", address=STAND_IN, reads=Scale.Reads.FILM)
    products = {product.name: product for product in Product.objects.all()}
    for name, part, batch, count, size, unit, price, use_by, kit in TINS:
        came = Came(batch, count, size, unit, Decimal(price), at, use_by, place, kit)
        made = take_in(products[name], part, user, came)
        if batch == "S-3310":
            tell(made[0], user, Happened.OPENED, at)
            tell(made[0], user, Happened.WEIGHED, at, "by eye", amount=1700.0, unit="mL")
