"""Speed of what is measured on faces: readings judged, maps drawn, depths taken apart."""

import random
import time

READINGS, FACES = 10_000, 300


def measure(shop):
    """Readings of many faces judged; the pages of film and of level as a multiple of the signed-in shell beside them."""
    from django.test import Client

    from emplastra.core.air import heat
    from emplastra.core.gauge import accept
    from emplastra.core.gauge.readings import Reading, Taken
    from emplastra.core.level.depths import Depth, relief_of
    from emplastra.logbook.models import Kind
    from tests.speed import best

    chance = random.Random(1)
    faces = [[Reading(chance.gauss(220, 20)) for _ in range(READINGS // FACES)] for _ in range(FACES)]
    start = time.perf_counter()
    for face in faces:
        taken = Taken(3, 2.0, 0.0)
        um = taken.corrected(face)
        spots = [s.um for s in taken.spots(um)]
        for by in ("", "iso19840", "pa2-3"):
            accept.judge(by, [r.um for r in um], spots, accept.Asked(200, 160, 300), 3)
    took = 1000 * (time.perf_counter() - start)
    print(f"{'Readings judged by three standards':<40} {took:>5.0f} ms   10,000 on 300 faces; under 300 ms")

    hours = [(month, heat.hot_air_c(48.0)[month - 1]) for month in range(1, 13) for _ in range(730)]

    def year():
        suns = {month: heat.noon_sun_w_m2(month, 48.0) for month in range(1, 13)}
        return [heat.sol_air_c(air_c, suns[month], colour) for colour in heat.ABSORBS for month, air_c in hours]

    print(f"{'Sol-air of a year, three colours':<40} {1000 * best(year, 9):>5.1f} ms   {3 * len(hours):,} hours; under 50 ms")  # fmt: skip

    client = Client()
    client.force_login(shop.user)
    client.get("/more/")
    shell = best(lambda: client.get("/more/"), 25)
    zone = shop.zone
    shop.tell(Kind.BARED, -9, -8.5, "s-strip")
    for at in (-8, -5):
        shop.coat(at, at + 0.1)
    points = [[chance.gauss(100, 9), (c + 0.5) / 10, (r + 0.5) / 6] for r in range(6) for c in range(10)]
    um = [p[0] for p in points]
    shop.tell(Kind.GAUGED, -2, -1.9, readings="", points=points, mean_um=sum(um) / 60, least_um=min(um), count=60)
    depths = [[chance.uniform(-1, 0.1), (c + 0.5) / 13, (r + 0.5) / 7] for r in range(7) for c in range(13)]
    shop.tell(Kind.LEVELLED, -1, -0.9, depths="", points=depths, after="highs")
    for name, url, target in (("Film map, 60 readings", f"/zones/{zone.pk}/film", "6 x"), ("Level, 91 places", f"/zones/{zone.pk}/level", "none asked")):  # fmt: skip
        client.get(url)
        page, beside = best(lambda at=url: client.get(at), 9), best(lambda: client.get("/more/"), 15)
        print(f"{name:<40} {page / beside:>5.1f}      {target}; {page / shell:.1f} x that of one zone")
    face = [Depth(*point) for point in depths]
    each = 1000 * best(lambda: relief_of(face, 1400, 900).islands(0.15), 9)
    print(f"{'Lows and highs of 91 places':<40} {each:>5.1f} ms")
    spray(client, shop)


def spray(client, shop):
    """A map of a million cells and 200 strokes beside one pass over its memory; a row that was moved, as it is answered."""
    import tracemalloc

    import numpy as np

    from emplastra.core.spray.film import Wanted, film_of
    from emplastra.core.spray.gun import Gun
    from emplastra.core.spray.panel import Panel
    from emplastra.core.spray.strokes import Stroke
    from tests.speed import best

    panel, gun, wanted = Panel(3000, 3000), Gun(180, 240, 200, 200, 0.6), Wanted(10, 9, 11, 0.2, 80)
    strokes = [Stroke("x", 15.0 * n, -50, 3050, 0.5, n + 1) for n in range(200)]
    film_of(panel, gun, strokes, wanted, (1000, 1000))
    each = best(lambda: film_of(panel, gun, strokes, wanted, (1000, 1000)), 9) / len(strokes)
    cells = np.ones((1000, 1000))
    over = best(lambda: np.add(cells, 1.0, out=cells), 25)
    tracemalloc.start()
    film_of(panel, gun, strokes, wanted, (1000, 1000))
    peak = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    print(f"{'Spray map, 1,000,000 cells, 200 strokes':<40} {each / over:>5.1f}      passes over memory a stroke; 10; at most {peak:.0f} MB")  # fmt: skip
    url = f"/zones/{shop.zone.pk}/pass/answer"
    asked = {"film": "20", "solids": "40", "returns": "20", "rows": "0 120 240 360 480 600 720 840 990"}
    client.get(url, asked)
    took = best(lambda: client.get(url, asked | {"rows": f"0 120 240 360 480 600 720 840 {990 - time.perf_counter() % 9:.3f}"}), 15)  # fmt: skip
    print(f"{'Pass, a row moved':<40} {1000 * took:>5.0f} ms   under 200 ms; {took / best(lambda: client.get('/more/'), 15):.1f} x the shell")  # fmt: skip
