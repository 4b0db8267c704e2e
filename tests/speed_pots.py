"""Speed of pots and batches: Bench with 200 live pots, the trail of a batch through 2,000 coats, the live scale."""

import statistics
import time

POTS, COATS = 200, 2000


def pots(shop):
    """Each as a multiple of the signed-in shell beside it, and of that of a workshop with one zone, with its queries."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from emplastra.jobs.models import Zone
    from emplastra.logbook.models import Kind
    from emplastra.store.services import name_batch
    from tests.speed import best

    client = Client()
    client.force_login(shop.user)
    client.get("/more/")
    shell = best(lambda: client.get("/more/"), 25)
    revision = shop.primer.revisions.first()
    about = {"revision": revision, "variant": "mild", "method": "brush", "thinner_pct": 0.0, "ready_ml": 200.0, "temp_c": 20.0}  # fmt: skip
    tins = {part: name_batch(shop.primer, part, f"B-{part}") for part in ("base", "hardener")}
    zones = [shop.zone, *(shop.make_zone(f"Face {n:03}") for n in range(49))]

    def pot(zone, at):
        made = shop.tell(Kind.POT, at, zone=zone, **about)
        for part, grams in (("base", 240.0), ("hardener", 280.0)):
            shop.tell(Kind.WEIGHED, at + 0.01, zone=zone, pot=made, part=part, scale_g=grams, tin=tins[part])
        return made

    def measure(name, act, target):
        act()
        with CaptureQueriesContext(connection) as queries:
            assert act().status_code == 200
        count = len(queries)
        took, beside = best(act, 7), best(lambda: client.get("/more/"), 15)
        print(f"{name:<40} {took / beside:>7.1f}   {count:>7}   {target}; {took / shell:.1f} x that of one zone")

    live = [pot(zones[n % 50], -0.9) for n in range(POTS)]
    measure("Bench, 50 zones and 200 live pots", lambda: client.get("/"), "8 x, 20 queries")
    for n in range(COATS):
        shop.coat(-0.5, -0.4, zone=zones[n % 50], pot=live[n % POTS])
    measure("Trail of a batch, 2,000 coats", lambda: client.get(f"/batches/{tins['base'].pk}/"), "4 x")
    print(f"{Zone.objects.count()} zones")


def scale(shop):
    """From a line of the scale to the number on the screen, through the page's own asking: median and worst of ten [ms].

    The age of a line as the server answers, and the whole of the way of that answer, there and back.
    """
    from playwright.sync_api import sync_playwright

    from tests.browser.base import ARGUMENTS, chromium_path
    from tests.torture import PASSWORD, Server

    server = Server()
    try:
        with sync_playwright() as driver:
            page = driver.chromium.launch(executable_path=chromium_path(), args=ARGUMENTS).new_page()
            page.goto(f"http://127.0.0.1:{server.port}/")
            page.get_by_label("Username").fill("bench")
            page.get_by_label("Password").fill(PASSWORD)
            page.get_by_role("button", name="Sign in").click()
            page.wait_for_load_state()
            page.add_init_script(
                """const asked = window.fetch; window.ages = [];
                window.fetch = async (...a) => { const t = performance.now(), r = await asked(...a), j = await r.clone().json();
                  if (j.age) window.ages.push(1000 * j.age + performance.now() - t); return r; };"""
            )
            page.goto(f"http://127.0.0.1:{server.port}/scales/1/")
            begun = time.monotonic()
            while time.monotonic() - begun < 20:
                page.wait_for_function("n => window.ages.length > n", arg=len(page.evaluate("window.ages")))
            ages = sorted(page.evaluate("window.ages"))
            # A number stays until the next is asked for: half of the 200 ms between two on top.
            print(f"a line of the scale to the screen: median {statistics.median(ages):.0f} ms, with half the time to the next {statistics.median(ages) + 100:.0f} ms (target 250), worst of ten {ages[int(0.9 * len(ages))]:.0f} ms")  # fmt: skip
    finally:
        server.kill()
