"""Speed of Materials: a shelf of 400, a keystroke in a product's form, a sheet of twelve pages read."""

import time
from pathlib import Path

PAGES = 12


def shelf(shop):
    """Each as a multiple of the signed-in empty shell measured beside it, with its queries; the sheet in seconds."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from emplastra.core.product import pasted
    from emplastra.materials import services
    from emplastra.materials.models import Product
    from emplastra.store.services import Came, take_in
    from tests.base import PRIMER
    from tests.speed import best

    client = Client()
    client.force_login(shop.user)
    for n in range(400):
        services.add_sheet({**PRIMER, "product": f"Primer {n:03}"})
    typed = {"name": "Barn primer", "ratio": "4:1 by volume, hardener S", "pot_life": "6 h at 20 °C", "film": "40–60 µm", "flash": "30 min at 10 °C, 20 min at 20 °C", "recoat": "4 h to 48 h at 10 °C, 2 h to 24 h at 20 °C", "cure": "7 days", "here_c": "17.7"}  # fmt: skip

    def keystroke():
        return client.post("/materials/new/epoxy-primer/preview?form=mixed", typed)

    for name, act in (("Materials, 400 products", lambda: client.get("/materials/")), ("A keystroke in the form", keystroke), ("A product's form", lambda: client.get("/materials/new/epoxy-primer")), ("A product's page", lambda: client.get(f"/materials/{shop.primer.pk}/"))):  # fmt: skip
        act()
        with CaptureQueriesContext(connection) as queries:
            act()
        count, beside = len(queries), best(lambda: client.get("/more/"), 15)
        print(f"{name:<40} {best(act, 7) / beside:>7.1f}   {count:>7}   4 x")
    for n in range(1000):
        came = Came(f"B{n}", 1, 1000.0, "mL")
        take_in(Product.objects.get(name=f"Primer {n // 20:03}"), "base" if n % 2 else "hardener", shop.user, came)
    for name, act in (("Store, 1,000 tins", lambda: client.get("/store/")), ("A tin", lambda: client.get("/tins/1/"))):
        act()
        with CaptureQueriesContext(connection) as queries:
            act()
        count, beside = len(queries), best(lambda: client.get("/more/"), 15)
        print(f"{name:<40} {best(act, 7) / beside:>7.1f}   {count:>7}   4 x")
    one = 6 * "\n".join(p.read_text() for p in sorted((Path(__file__).parent / "cases/sheets").glob("*.txt")))
    text = "\n".join(
        line for line in one.splitlines() if not line.lower().startswith(("product", "name of", "trade", "material"))
    )
    begun = time.perf_counter()
    found = pasted.read_text(text)
    print(
        f"a pasted sheet of {PAGES} pages, {len(found.lines)} lines: {time.perf_counter() - begun:.2f} s (target 2 s)"
    )
