"""Speed of days: 40 zones of 10 steps over 28 days, 30 shops beside a plain listing, a late act, draws, the page."""

import time
from dataclasses import replace

import numpy as np

H = 3600.0
ZONES, STEPS, DAYS = 40, 10, 28
SECONDS = 20.0


def large(seed):
    """A shop of one booth and three pairs of hands, nights, weekends, damp hours, dust and windows; its waits."""
    import random

    from emplastra.core.schedule.work import Act, Person, Shop, Shut, Wait

    rng = random.Random(seed)
    there = tuple((d * 24 * H + 7 * H, d * 24 * H + 17 * H) for d in range(DAYS) if d % 7 < 5)
    damp = tuple((d * 24 * H + 7 * H, d * 24 * H + 10 * H) for d in range(DAYS) if rng.random() < 0.2)
    acts, waits = [], []
    for z in range(ZONES):
        for k in range(STEPS):
            coat, sanded = k % 2 == 1, k % 4 == 2
            act = Act(
                f"{z}.{k}", f"{z}", "", (rng.randint(2, 5) if coat else rng.randint(3, 12)) * 300.0, job="job",
                uses=("gun",) if coat else (), holds=("booth",) if coat else (), then_s=900.0 if coat else 0.0,
                tacky_s=H if coat else 0.0, dusty=sanded, air="damp" if coat else "", place=f"{z % 3}",
            )  # fmt: skip
            if k:
                least, most = (0.0, 4 * H) if coat else (rng.choice([1, 2, 4, 8]) * H, rng.choice([None, None, 72 * H]))
                waits.append(Wait(f"{z}.{k - 1}", act.id, least, most))
            acts.append(act)
    crew = tuple(Person(f"p{i}", there) for i in range(3))
    shop = Shop(0.0, DAYS * 24 * H, tuple(acts), crew, {"booth": Shut(), "gun": Shut(2)}, {"damp": damp})
    return replace(shop, due={"job": 27 * 24 * H}), waits


def days(shop):
    """First plan, gap, and the length beside a listing's; a late act; draws; the page of 400 steps beside the shell."""
    from emplastra.core.schedule.listing import listed
    from emplastra.core.schedule.solver import Asked, near, solve
    from emplastra.core.schedule.work import kept

    asked, waits = large(0)
    began, first = time.perf_counter(), []
    rival = listed(asked, waits)
    listing = time.perf_counter() - began
    began = time.perf_counter()
    better, _ = solve(
        asked, waits, Asked(SECONDS, hint=rival, tell=lambda b: first.append(time.perf_counter() - began))
    )
    length, rivals = better.length_s / H, max(row.end_s for row in rival.placed.values()) / H
    print(f"\nDays of {ZONES} zones with {STEPS} steps over {DAYS} days, 5-minute grid, one booth")
    print(f"  first plan {listing:.1f} s by listing, {listing + first[0]:.1f} s by the solver (target 3 s)")
    print(
        f"  after {SECONDS:.0f} s: {length:.0f} h, at least {better.bound_s / H:.0f} h, gap {better.gap:.1%} (aim 5 %)"
    )
    print(
        f"  listing {rivals:.0f} h: {length / rivals:.3f} of it; broken by a look apart: {len(kept(asked, waits, better.plan))}"
    )
    late = max(better.plan.placed.values(), key=lambda row: -row.begin_s)
    acts = tuple(
        replace(a, pinned_s=late.begin_s + 4 * H)
        if a.id == late.act
        else replace(a, promised_s=better.plan[a.id].begin_s)
        for a in asked.acts
    )
    began, changed = time.perf_counter(), replace(asked, acts=acts)
    again = near(changed, waits, Asked(3.0))
    took = time.perf_counter() - began
    told = f"{took:.1f} s, {len(again.moved(changed))} acts on another day" if again else f"none in {took:.1f} s"
    print(f"  replanned after one late act: {told} (target 3 s)")
    ratios = []
    for seed in range(30):
        small, between = large(seed)
        keep = {a.id for a in small.acts if int(a.face) < 12}
        small = replace(small, acts=tuple(a for a in small.acts if a.id in keep))
        between = [w for w in between if w.after in keep]
        plain = listed(small, between)
        found, _ = solve(small, between, Asked(2.0, hint=plain))
        ratios.append(found.length_s / max(plain.ends(small).values()))
    print(
        f"  30 shops of 12 zones, 2 s each: {np.mean(ratios):.3f} of the listing, from {min(ratios):.3f} to {max(ratios):.3f}"
    )
    draws()
    page(shop)


def draws():
    """500 replays of a plan of 400 acts with windows by law."""
    from emplastra.core.air.journey import journey, steady
    from emplastra.core.product.tables import TimeTable
    from emplastra.core.schedule import draws as core
    from emplastra.core.schedule.faces import Limit, Met
    from emplastra.core.schedule.listing import listed
    from emplastra.core.surface.integral import crossing

    asked, waits = large(1)
    plan = listed(asked, waits)
    airs = [
        journey([(-90 * 24 * H, steady(18.0, 55.0, -90 * 24 * H, 60 * 24 * H), "Shop")], tau)
        for tau in (600.0, 1800.0, 5000.0)
    ]
    opens, closes = TimeTable(((10.0, 300.0), (20.0, 120.0))), TimeTable(((10.0, 6000.0), (20.0, 4320.0)), "max")
    mets, after = {}, {}
    for wait in waits:
        after.setdefault(wait.after, []).append(wait.before)
        act, before = asked.by_id[wait.after], plan[wait.before]
        where = airs[int(act.face) % 3]
        first, last = crossing(where, opens, before.end_s), crossing(where, closes, before.begin_s)
        limits = [Limit(first.t_s, wait.before, "", first)], [Limit(last.t_s, wait.before, "", last, True)]
        mets[act.id] = Met(act, plan[act.id].begin_s, plan[act.id].end_s, *limits)
    t_s = np.arange(0.0, asked.end_s, H)
    made = core.drawn(t_s, np.array([]), np.array([]), 500, 2.0)
    began = time.perf_counter()
    core.replay(core.Asked(asked, plan, mets, {}, after), made)
    print(
        f"  500 draws of {len(asked.acts)} acts on {len(t_s)} hours: {time.perf_counter() - began:.1f} s (target 10 s)"
    )


def page(shop):
    """The page of a plan of 400 steps as a multiple of the signed-in empty shell."""
    from django.test import Client

    from emplastra.jobs.days import take_plan
    from tests.speed import best

    now_s, job = time.time() // 300 * 300, shop.zone.job
    acts = [
        {"id": f"{shop.zone.pk}:s{n}:1", "zone": shop.zone.pk, "face": f"Face {n % 40:02}", "step": f"s{n}", "coat": 1, "name": "Prime 1", "kind": "prime",
         "job": job.pk, "begin": now_s + n * 1800, "end": now_s + n * 1800 + 1500, "who": "bench", "flash": 600, "opens": now_s + n * 1800 - 900, "closes": now_s + n * 1800 + 9000,
         "opens_why": "it may follow", "closes_why": "the window closes", "missed": False, "fixed": False, "wished": False}
        for n in range(400)
    ]  # fmt: skip
    says = {"said": "feasible", "how": "solved", "rounds": 1, "ends": {f"{job.pk}": acts[-1]["end"]}, "due": {}, "gap": 0.1, "missed": [], "forecast": None,
            "hours_assumed": False, "made": now_s, "crew": {"bench": [[now_s + d * 86400, now_s + d * 86400 + 36000] for d in range(12)]}, "risk": None}  # fmt: skip
    take_plan(shop.user, acts, says, 0)
    client = Client()
    client.force_login(shop.user)
    shell, took = best(lambda: client.get("/more/"), 9), best(lambda: client.get("/days/"), 9)
    print(f"  Days of 400 steps: {took / shell:.1f} x the empty shell (target 8 x)")
