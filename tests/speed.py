"""Speeds as ratios: clocks against a plain loop (checked equal first), pages against the empty shell.

A workshop of its own is made each time: 800 zones, 10,000 entries, four places, each with a year of
one-minute readings. Nothing here is a test; a missed target is said.
"""

import math
import resource
import statistics
import subprocess
import sys
import time
from bisect import bisect_right
from datetime import timedelta

import django
import numpy as np

from tests.speed_days import days
from tests.speed_handover import handover
from tests.speed_measure import measure
from tests.speed_plans import plans
from tests.speed_pots import pots, scale
from tests.speed_shelf import shelf
from tests.speed_survey import mesh, survey

ZONES, ENTRIES, DAYS = 800, 10_000, 365
PLACES = (("Shop", 17.0, 2.0), ("Booth", 21.0, 1.0), ("Yard", 11.0, 6.0), ("Cellar", 13.0, 1.5))
"""Name, mean [°C], daily swing [K]."""
SECTIONS = (("steel", 0.8), ("steel", 1.2), ("steel", 3.0), ("steel", 6.0), ("cast iron", 18.0))
SHEETS = {
    "Bench epoxy": {"flash": [[10, 40], [20, 20], [30, 12]], "sandable": [[10, 1800], [20, 960], [30, 540]], "cure": [[10, 20160], [20, 10080], [30, 5040]], "opens": [[10, 130], [20, 60], [30, 35]], "closes": [[10, 8640], [20, 4320], [30, 2520]]},
    "Bench mastic": {"flash": [[10, 90], [20, 45], [30, 25]], "touch": [[10, 600], [20, 300], [30, 160]], "cure": [[10, 20160], [20, 10080], [30, 5040]], "opens": [[10, 720], [20, 360], [30, 200]], "closes": [[10, 5760], [20, 2880], [30, 1620]]},
}  # fmt: skip


def best(do, rounds=5):
    """Median seconds of a call, over some rounds."""
    took = []
    for _ in range(rounds):
        start = time.perf_counter()
        do()
        took.append(time.perf_counter() - start)
    return statistics.median(took)


def once(do):
    """(seconds of one call, what it gave)."""
    start = time.perf_counter()
    got = do()
    return time.perf_counter() - start, got


def air_of(mean, swing, minutes):
    """Temperatures [°C] and humidities [%] of a place, minute by minute."""
    day = 2 * np.pi * minutes / 1440
    temps = mean + swing * np.sin(day) + 3 * np.sin(day / 30) + 0.4 * np.sin(minutes / 37.0)
    return np.round(temps, 2), np.round(60 - 8 * np.sin(day) + 2 * np.sin(minutes / 53.0), 1)


class Workshop:
    """A large workshop, its rows written directly."""

    def build(self):
        from emplastra.climate.models import ImportBatch, Place, Reading
        from emplastra.materials.models import Product
        from emplastra.materials.services import add_sheet
        from emplastra.shared import clock
        from tests.base import NOON, PRIMER, Shop

        shop = Shop().build()
        self.user, self.now = shop.user, NOON
        for name, times in SHEETS.items():
            window = {"next": "any", "opens": times["opens"], "closes": times["closes"], "remedy": {"grit": "P120"}}
            rest = {k: v for k, v in times.items() if k not in {"opens", "closes"}}
            add_sheet(PRIMER | {"product": name, "times": rest, "windows": [window]})
        self.products = [Product.objects.get(name=name) for name in SHEETS]
        self.places = []
        start = NOON.replace(hour=0) - timedelta(days=DAYS)
        minutes = np.arange(DAYS * 1440 + 12 * 60)
        self.start_s, self.air = start.timestamp(), {}
        for name, mean, swing in PLACES:
            place = Place.objects.get_or_create(name=name, defaults={"kind": "shop"})[0]
            temps, humid = air_of(mean, swing, minutes)
            if name != "Shop":
                self.fill(place, start, temps, humid, ImportBatch, Reading)
            self.places.append(place)
            self.air[place.pk] = temps, humid
        shop_batch = ImportBatch.objects.get(place=self.places[0])
        from emplastra.climate.services import withdraw

        withdraw(self.user, shop_batch, "bench")
        self.fill(self.places[0], start, *self.air[self.places[0].pk], ImportBatch, Reading)
        self.zones(shop)
        clock.freeze(NOON)
        return self

    def fill(self, place, start, temps, humid, batches, readings):
        """A year of readings in monthly imports, by raw inserts."""
        from django.db import connection

        step = 30 * 1440
        for first in range(0, len(temps), step):
            last = min(first + step, len(temps))
            at = [start + timedelta(minutes=i) for i in (first, last - 1)]
            batch = batches.objects.create(place=place, filename=f"{first}.csv", sha256=f"{place.pk}-{first}", rows=last - first, first=at[0], last=at[1], who=self.user)  # fmt: skip
            stamps = np.datetime64(start.replace(tzinfo=None) - start.utcoffset(), "s") + np.arange(
                first, last
            ) * np.timedelta64(60, "s")
            stamps = np.char.replace(np.datetime_as_string(stamps), "T", " ").tolist()
            rows = zip(stamps, temps[first:last].tolist(), humid[first:last].tolist(), strict=True)
            recorded = batch.recorded.strftime("%Y-%m-%d %H:%M:%S")
            with connection.cursor() as cursor:
                cursor.executemany(
                    f"INSERT INTO {readings._meta.db_table} (place_id, batch_id, at, air_c, rh_pct, recorded) VALUES ({place.pk}, {batch.pk}, %s, %s, %s, '{recorded}')",
                    rows,
                )

    def zones(self, shop):
        """800 zones with what happened to them over the last month, 10,000 entries in all."""
        from emplastra.jobs.models import BuildUpVersion, Job, Zone, ZoneRevision
        from emplastra.logbook import models as log
        from tests.base import SQUARE

        Job.objects.update(filing="closed")
        job, random = Job.objects.create(name="Everything"), np.random.default_rng(7)
        entries, rows, details = (
            [],
            [],
            {log.ROWS["Moved"]: [], log.ROWS["Keyed"]: [], log.ROWS["Coat"]: [], log.ROWS["Degreased"]: []},
        )
        number = 10_000
        per_zone = ENTRIES // ZONES
        for i in range(ZONES):
            substrate, mm = SECTIONS[i % len(SECTIONS)]
            zone = Zone.objects.create(job=job, name=f"Zone {i}")
            ZoneRevision.objects.create(
                zone=zone,
                substrate=substrate,
                thickness_mm=mm,
                form="flat",
                finish_class="show",
                shapes=SQUARE,
                wetted_faces=2,
            )
            product = self.products[i % 2]
            steps = [
                {"id": "s", "kind": "strip"},
                {"id": "p", "kind": "prime", "product": product.name, "coats": 9, "dft_um": 50},
            ]
            BuildUpVersion.objects.create(zone=zone, number=1, steps=steps)
            ends = np.sort(random.uniform(1, 30 * 24, per_zone + (i % 2)))[::-1]
            for n, back in enumerate(ends.tolist()):
                at = (self.now - timedelta(hours=back)).replace(second=0, microsecond=0)
                kind = ("moved", "bared", "keyed", "degreased", "coat")[n % 5] if n < len(ends) - 1 else "coat"
                number += 1
                entry = log.Entry(
                    id=number, kind=kind, began=at - timedelta(minutes=20), ended=at, who=self.user, recorded=at
                )
                entries.append(entry)
                rows.append(
                    log.EntryZone(entry=entry, zone=zone, step={"bared": "s", "coat": "p"}.get(kind, ""), recorded=at)
                )
                if kind == "moved":
                    details[log.ROWS["Moved"]].append(
                        log.ROWS["Moved"](entry=entry, place=self.places[(i + n) % 4], recorded=at)
                    )
                elif kind == "keyed":
                    details[log.ROWS["Keyed"]].append(log.ROWS["Keyed"](entry=entry, grit="P240", recorded=at))
                elif kind == "degreased":
                    details[log.ROWS["Degreased"]].append(log.ROWS["Degreased"](entry=entry, recorded=at))
                elif kind == "coat":
                    revision = product.revisions.first()
                    details[log.ROWS["Coat"]].append(
                        log.ROWS["Coat"](
                            entry=entry,
                            product=product,
                            revision=revision,
                            variant="mild",
                            method="brush",
                            plan_um=50,
                            recorded=at,
                        )
                    )
        log.Entry.objects.bulk_create(entries)
        log.EntryZone.objects.bulk_create(rows)
        for model, made in details.items():
            model.objects.bulk_create(made)
        self.entries = len(entries)


def every_clock(facts):
    """{zone id: {clock: (opens, closes)}} of all zones at one instant."""
    from emplastra.state.selectors import state_of
    from tests.surfaces import clocks_of

    t_s, found = facts.now.timestamp(), {}
    for pk, each in facts.zones.items():
        surface = state_of(each, facts, t_s).surface
        found[pk] = {c.kind: (c.opens_s, c.closes_s) for c in clocks_of(surface)}
    return found


class Plain:
    """The plain loop: for each clock of each zone, minute by minute from its start to p = 1."""

    def __init__(self, shop):
        self.shop = shop
        self.laws = {}

    def law(self, points):
        """A table as knots, logarithms and slopes, made once."""
        key = tuple(map(tuple, points))
        if key not in self.laws:
            knots, lns = [-1 / (t + 273.15) for t, _ in points], [-math.log(m) for _, m in points]
            slopes = [(lns[i + 1] - lns[i]) / (knots[i + 1] - knots[i]) for i in range(len(points) - 1)]
            self.laws[key] = knots, lns, slopes
        return self.laws[key]

    def reach(self, points, stays, tau, start_s, role):
        """Minute by minute along the stays: the metal follows, the rate adds up. Epoch s, or None."""
        knots, lns, slopes = self.law(points)
        low_c, high_c, done = points[0][0] - 5, points[-1][0] + 5, 0.0
        keep = math.exp(-60 / tau)
        t = max(stays[0][0], start_s - 60 * math.ceil(12 * tau / 60))
        metal = None
        for _begin, end, temps in stays:
            while t < end:
                if t >= start_s + 30 * 86400:
                    return None
                i = (t + 30 - self.shop.start_s) / 60
                k = int(i)
                if k + 1 >= len(temps):
                    return "later"
                air = temps[k] + (i - k) * (temps[k + 1] - temps[k])
                before = air if metal is None else metal
                metal = air + (before - air) * keep
                if t >= start_s:
                    middle = (before + metal) / 2
                    temp = middle if role == "max" else min(middle, high_c)
                    if not (role == "min" and temp < low_c):
                        x = -1 / (max(temp, low_c) + 273.15)
                        j = min(max(bisect_right(knots, x) - 1, 0), len(slopes) - 1)
                        rate = math.exp(lns[j] + slopes[j] * (x - knots[j]))
                        if done + rate >= 1:
                            return t + (1 - done) / rate * 60
                        done += rate
                t += 60
        return None

    def states(self, facts):
        """{zone id: {clock: moment}} of the clocks of every zone's last coat."""
        lists = {pk: temps.tolist() for pk, (temps, _) in self.shop.air.items()}
        found = {}
        for pk, each in facts.zones.items():
            coat = max((e for e in each.events if type(e).__name__ == "Coated"), key=lambda e: e.ended_s)
            times, last = SHEETS[coat.product], each.revision.lag_s
            from emplastra.core.air.lag import shared_lag_s

            tau = max(shared_lag_s(last), 1e-9)
            ends = [t for t, _ in each.moves[1:]] + [float("inf")]
            begins = [self.shop.start_s] + [t for t, _ in each.moves[1:]]
            stays = [(a, b, lists[place]) for a, b, (_, place) in zip(begins, ends, each.moves, strict=True)]
            stays = [s for s in stays if s[1] > coat.began_s - 12 * tau]
            found[pk] = {
                name: self.reach(points, stays, tau, coat.began_s if name == "closes" else coat.ended_s, "max" if name == "closes" else "min")
                for name, points in times.items()
            }  # fmt: skip
        return found


def worst_difference(ours, plain, facts, last_s):
    """(largest difference [s], as a share of what is allowed, moments compared), of moments before the last reading.

    Allowed: a minute or 0.5 % of the time, the larger.
    """
    worst, share, count = 0.0, 0.0, 0
    for pk, clocks in plain.items():
        begun = max(e.began_s for e in facts.zones[pk].events if type(e).__name__ == "Coated")
        for name, t in clocks.items():
            clock = ours[pk].get("recoat" if name in {"opens", "closes"} else name)
            if not isinstance(t, float) or clock is None or t > last_s - 120:
                continue
            apart, count = abs((clock[1] if name == "closes" else clock[0]) - t), count + 1
            worst, share = max(worst, apart), max(share, apart / max(60.0, 0.005 * (t - begun)))
    return worst, share, count


def memory_mb():
    """Peak memory of this process so far [MB]."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def engine(shop):
    """States of all zones at one instant, an appended reading, memory; then the same by the plain loop."""
    from emplastra.climate.models import Reading
    from emplastra.jobs.models import Zone
    from emplastra.shared import clock
    from tests.base import drop_caches

    zones = list(Zone.objects.filter(job__name="Everything").select_related("job"))
    before = memory_mb()

    def rebuild():
        from emplastra.state.facts import load

        drop_caches()
        facts = load(zones)
        return facts, every_clock(facts)

    rebuild()  # packs of days are made once
    full, (facts, ours) = once(rebuild)
    drop_caches()
    from emplastra.state.facts import load

    loading, facts = once(lambda: load(zones))
    cold, _ = once(lambda: every_clock(facts))
    warm = best(lambda: every_clock(facts))
    print(
        f"engine: {len(zones)} zones, {shop.entries} entries, {len(shop.places)} places, {Reading.objects.count()} readings"
    )
    print(
        f"engine: rows and air loaded {loading * 1000:.0f} ms; all states, integrals made {cold * 1000:.0f} ms; again {warm * 1000:.0f} ms"
    )
    idle = best(lambda: load(zones))
    costs = []
    for k in range(5):
        clock.advance(minutes=1)
        place = shop.places[k % 4]
        Reading.objects.create(place=place, at=clock.now(), air_c=18 + k / 10, rh_pct=55)
        load_s, facts2 = once(lambda: load(zones))
        states_s, after = once(lambda at=facts2: every_clock(at))
        costs.append((load_s, states_s))
    drop_caches()
    again = every_clock(load(zones))
    same = all(
        abs((a or 0) - (b or 0)) < 0.002
        for pk in again
        for kind in again[pk]
        for a, b in zip(again[pk][kind], after[pk][kind], strict=True)
    )
    load_s, states_s = (statistics.median(c) for c in zip(*costs, strict=True))
    print(f"engine: one appended reading {load_s * 1000:.0f} ms, {load_s / full:.1%} of a full rebuild of {full:.2f} s (target under 2 %; a load with nothing new is {idle * 1000:.0f} ms of it); all states then {states_s * 1000:.0f} ms, {states_s / full:.1%}; same as rebuilt: {same}")  # fmt: skip
    print(f"engine: peak memory {memory_mb():.0f} MB, {before:.0f} MB of it before (target under 400 MB)")
    slow, plain = once(lambda: Plain(shop).states(facts))
    worst, share, count = worst_difference(ours, plain, facts, shop.now.timestamp())
    print(f"engine: plain loop {slow:.1f} s; {count} moments compared, largest difference {worst:.1f} s")
    if share > 1:
        print("engine: the two do NOT agree within a minute or half a per cent")
    print(
        f"engine: all states after load {slow / cold:.0f} x as fast with integrals made, {slow / warm:.0f} x again (target 100 x)"
    )


def pages(shop):
    """Each page as a multiple of the signed-in empty shell, with its queries; then with many open zones."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from emplastra.jobs.models import Job, Zone

    client = Client()
    client.force_login(shop.user)
    Job.objects.update(filing="closed")
    shell = best(lambda: client.get("/more/"), 15)
    print(f"empty shell: {shell * 1000:.1f} ms")

    def show(name, url, target=""):
        opened = list(Job.objects.filter(filing="open").values_list("pk", flat=True))
        Job.objects.update(filing="closed")
        client.get("/more/")
        beside = best(lambda: client.get("/more/"), 15)  # the machine is not as fast at every moment
        Job.objects.filter(pk__in=opened).update(filing="open")
        client.get(url)
        with CaptureQueriesContext(connection) as queries:
            client.get(url)
        count = len(queries)
        print(f"{name:<40} {best(lambda: client.get(url), 7) / beside:>7.1f}   {count:>7}   {target}")

    print("page                                     x shell   queries")
    job = Job.objects.get(name="Everything")
    Job.objects.filter(pk=job.pk).update(filing="open")
    ids = list(Zone.objects.filter(job=job).values_list("id", flat=True))
    for count, urls in ((500, (("Bench, 500 open zones", "/", "8 x, 20 queries"),)), (100, (("Windows, 100 zones", "/windows/?all=1", "10 x"), ("Windows, warmer by 3 K", "/windows/rows?all=1&kelvin=3", ""))), (12, (("Bench, 12 zones", "/", ""), ("Jobs", "/jobs/", ""), ("Build-up", f"/zones/{ids[0]}/plan", ""), ("Log a coat", f"/zones/{ids[0]}/log/coat", ""), ("Now", f"/zones/{ids[0]}/", ""), ("Air", "/air/", "")))):  # fmt: skip
        Zone.objects.filter(id__in=ids).update(removed=True)
        Zone.objects.filter(id__in=ids[:count]).update(removed=False)
        for name, url, target in urls:
            show(name, url, target)
    survey(shop, show)
    mesh(client, shop, best)


def start_up():
    """Time and memory of a server that has just started, beside a bare Python."""
    bare = "pass"
    served = "from emplastra.config.wsgi import application; from django.test import Client; Client().get('/health')"
    measure = "print(next(line.split()[1] for line in open('/proc/self/status') if line.startswith('VmHWM')))"
    found = []
    for code in (bare, served):
        command = [sys.executable, "-W", "ignore", "-c", f"{code}; {measure}"]
        took, done = once(lambda command=command: subprocess.run(command, capture_output=True, text=True, check=True))
        found.append((took, int(done.stdout.split()[-1]) // 1024))
    (bare_s, bare_mb), (took_s, took_mb) = found
    print(f"start-up: {took_s:.1f} s, {took_s / bare_s:.0f} x a bare Python; {took_mb} MB, {took_mb / bare_mb:.0f} x")


PARTS = {
    "engine": engine,
    "pages": pages,
    "shelf": shelf,
    "plans": plans,
    "pots": pots,
    "scale": scale,
    "measure": measure,
    "days": days,
    "handover": handover,
}
"""What needs the workshop; each is run in a process of its own."""


def main(part):
    """One part, on a workshop of its own."""
    django.setup()
    from django.test.runner import DiscoverRunner
    from django.test.utils import setup_test_environment

    setup_test_environment()
    runner = DiscoverRunner(verbosity=0, interactive=False)
    old = runner.setup_databases()
    try:
        from tests.base import Shop

        took, shop = once(lambda: (Workshop if part in {"engine", "pages"} else Shop)().build())
        print(f"{part}: workshop made in {took:.0f} s")
        PARTS[part](shop)
    finally:
        runner.teardown_databases(old)


if __name__ == "__main__":
    wanted = [part for part in sys.argv[1:] if part in PARTS]
    if len(wanted) == 1:
        main(wanted[0])
    else:
        start_up()
        for each in wanted or PARTS:  # what one part keeps in memory is not the other's
            subprocess.run([sys.executable, "-m", "tests.speed", each], check=True)
