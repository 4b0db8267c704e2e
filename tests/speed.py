"""Speeds as ratios: windows against a plain loop (checked equal first), pages against the empty shell."""

import math
import statistics
import time
from bisect import bisect_right

import django
import numpy as np

ZONES, DAYS = 200, 30
TABLES = {
    "opens": ((10.0, 720.0), (20.0, 360.0), (30.0, 200.0)),
    "closes": ((10.0, 5760.0), (20.0, 2880.0), (30.0, 1620.0)),
}
"""Opens after 6 h, closes after 48 h at 20 °C: the windows of a mastic."""


def plain(times, temps, knots, slopes, lns, start_s):
    """The plain loop: minute by minute to p = 1, no table parsed twice. Epoch s of the crossing, or None."""
    i, done = bisect_right(times, start_s), 0.0
    last, temp = start_s, temps[i - 1]
    while i < len(times):
        x = -1 / ((temp + temps[i]) / 2 + 273.15)
        k = min(max(bisect_right(knots, x) - 1, 0), len(slopes) - 1)
        step = (times[i] - last) / 60 * math.exp(lns[k] + slopes[k] * (x - knots[k]))
        if done + step >= 1:
            return last + (1 - done) / step * (times[i] - last)
        done, last, temp, i = done + step, times[i], temps[i], i + 1
    return None


def best(do, rounds=5):
    """Median seconds of a call, over some rounds."""
    took = []
    for _ in range(rounds):
        start = time.perf_counter()
        do()
        took.append(time.perf_counter() - start)
    return statistics.median(took)


def windows():
    """A month of one-minute air, 200 zones: when each coat opens and closes."""
    from emplastra.core import air, clock
    from emplastra.core import series as made

    minutes = np.arange(DAYS * 1440)
    times = minutes * 60.0
    temps = 18 + 5 * np.sin(minutes / 1440 * 2 * np.pi) + 0.5 * np.sin(minutes / 37)
    starts = (np.linspace(60, (DAYS - 4) * 86400.0, ZONES) // 60 * 60).tolist()
    lists = times.tolist(), temps.tolist()
    laws = []
    for points in TABLES.values():
        knots, lns = [-1 / (t + 273.15) for t, _ in points], [-math.log(m) for _, m in points]
        slopes = [(lns[i + 1] - lns[i]) / (knots[i + 1] - knots[i]) for i in range(len(points) - 1)]
        laws.append((knots, slopes, lns))
    tables = [clock.TimeTable(points, role) for points, role in zip(TABLES.values(), ("min", "max"), strict=True)]

    def theirs():
        return [plain(*lists, *law, s) for law in laws for s in starts]

    def ours():
        series = made.from_readings(times, temps, np.full(len(times), 55.0), times[-1])
        where = air.journey([(0, series, "shop")])
        return [clock.crossing(where, table, s).t_s for table in tables for s in starts]

    worst = max(abs(a - b) for a, b in zip(theirs(), ours(), strict=True))
    print(f"windows: {ZONES} zones, {len(times)} readings; largest difference to the plain loop {worst:.2f} s")
    if worst > 60:
        raise SystemExit("the two do not agree within a minute: no speed is printed")
    slow, fast = best(theirs, 3), best(ours)
    print(f"windows: plain loop {slow * 1000:.0f} ms, ours {fast * 1000:.0f} ms: {slow / fast:.1f} x (target 20 x)")


def pages():
    """Each page as a multiple of the signed-in empty shell, with its queries."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from emplastra.jobs.models import Job
    from emplastra.logbook.models import Kind
    from tests.base import Shop

    shop = Shop().build()
    client = Client()
    client.force_login(shop.user)
    Job.objects.update(filing="closed")
    shell = best(lambda: client.get("/more/"), 15)
    print(f"empty shell: {shell * 1000:.1f} ms")
    Job.objects.update(filing="open")
    shop.tell(Kind.BARED, -6, -5.5, "s-strip")
    shop.coat(-5, -4.8)
    for n in range(11):
        zone = shop.make_zone(f"Zone {n}")
        shop.tell(Kind.BARED, -6, -5.5, "s-strip", zone=zone)
    zone, job = shop.zone.pk, shop.job.pk
    print("page, with 12 open zones     x shell   queries")
    for name, url in (("Bench", "/"), ("Zones", "/zones/"), ("Build-up", f"/zones/{zone}/"), ("Mix", f"/zones/{zone}/mix"), ("Log a coat", f"/zones/{zone}/log/coat"), ("Window", f"/zones/{zone}/window"), ("Record", f"/jobs/{job}/record"), ("Air", "/air/")):  # fmt: skip
        with CaptureQueriesContext(connection) as queries:
            client.get(url)
        count = len(queries)
        print(f"{name:<28} {best(lambda url=url: client.get(url), 9) / shell:>7.1f}   {count:>7}")


if __name__ == "__main__":
    django.setup()
    from django.test.runner import DiscoverRunner
    from django.test.utils import setup_test_environment

    windows()
    setup_test_environment()
    runner = DiscoverRunner(verbosity=0, interactive=False)
    old = runner.setup_databases()
    try:
        pages()
    finally:
        runner.teardown_databases(old)
