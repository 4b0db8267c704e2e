"""Days planned: known instances with their optimum, every small plan tried, the critical path by networkx, a plain rival."""

import itertools
import random
from dataclasses import replace

import networkx
from django.test import SimpleTestCase

from emplastra.core.air.journey import journey, steady
from emplastra.core.product.sheet import read
from emplastra.core.schedule.bounds import earliest, ends_no_sooner, filled_s, in_order, meets, rings, waits_before
from emplastra.core.schedule.clash import _Part, impossible, smallest
from emplastra.core.schedule.durations import minutes
from emplastra.core.schedule.faces import FaceAsk, missed, walk
from emplastra.core.schedule.listing import listed
from emplastra.core.schedule.rounds import Days, careful, plan_days
from emplastra.core.schedule.solver import Asked, near, solve
from emplastra.core.schedule.work import Act, Person, Placed, Plan, Pot, Shop, Shut, Wait, kept
from emplastra.core.surface import events
from emplastra.core.surface.bare import OPEN_FACE
from emplastra.core.surface.clocks import Setting
from emplastra.core.surface.fold import build
from emplastra.core.surface.plan import PlanStep, progress_of

H = 3600.0
QUICK = Asked(seconds=10, workers=1)
FT06 = """(2,1) (0,3) (1,6) (3,7) (5,3) (4,6) / (1,8) (2,5) (4,10) (5,10) (0,10) (3,4) / (2,5) (3,4) (5,8) (0,9) (1,1) (4,7)
/ (1,5) (0,5) (2,5) (3,3) (4,8) (5,9) / (2,9) (1,3) (4,5) (5,4) (0,3) (3,1) / (1,3) (3,3) (5,9) (0,10) (4,4) (2,1)"""


def shop_of(acts, things, end_h=200, **more):
    """acts: (id, hours, what it uses)."""
    made = tuple(Act(name, name, name, hours * H, hands=False, uses=(used,)) for name, hours, used in acts)
    return Shop(0.0, end_h * H, made, things={name: Shut() for name in things}, grid_s=H, **more)


def waits_of(*rows):
    """rows: (before, after, least, most [h])."""
    return [Wait(a, b, least * H, None if most is None else most * H) for a, b, least, most in rows]


def without_most(waits):
    return [replace(wait, most_s=None) for wait in waits]


class KnownTests(SimpleTestCase):
    def solved(self, shop, waits):
        better, said = solve(shop, waits, QUICK)
        self.assertEqual(said, "feasible")
        self.assertEqual(kept(shop, waits, better.plan), [])
        self.assertTrue(better.proven)
        return better.length_s / H

    def test_a_job_shop_of_1963(self):
        # Fisher and Thompson 1963, 6 jobs on 6 machines: data from memory, optimum 55.
        acts, waits = [], []
        for j, row in enumerate(FT06.split("/")):
            for k, pair in enumerate(row.split()):
                machine, hours = map(int, pair.strip("()").split(","))
                acts.append((f"{j}.{k}", hours, f"m{machine}"))
                waits += [Wait(f"{j}.{k - 1}", f"{j}.{k}")] if k else []
        shop = shop_of(acts, [f"m{i}" for i in range(6)])
        self.assertEqual(self.solved(shop, waits), 55)
        rival = listed(shop, waits)
        self.assertEqual(kept(shop, waits, rival), [])
        self.assertGreaterEqual(rival.end_of(shop.acts), 55 * H)
        self.assertLessEqual(ends_no_sooner(shop, shop.acts, earliest(shop, waits)), 55 * H)

    def test_two_panels_with_longest_waits(self):
        # Constructed instances; optimum by full enumeration and by another model of the same solver.
        panels = [("B1", "bl"), ("P1", "bo"), ("T1", "bo"), ("B2", "bl"), ("P2", "bo"), ("T2", "bo")]
        for hours, recoat, prime, optimum, free in (
            ((3, 2, 2), (4, 7), (0, 2), 14, 14), ((2, 3, 3), (1, 2), (0, 0), 16, 14),
        ):  # fmt: skip
            with self.subTest(hours):
                acts = [(name, hours[i % 3], used) for i, (name, used) in enumerate(panels)]
                shop = shop_of(acts, ["bl", "bo"])
                rows = [(f"B{n}", f"P{n}", *prime) for n in "12"] + [(f"P{n}", f"T{n}", *recoat) for n in "12"]
                waits = waits_of(*rows)
                self.assertEqual(self.solved(shop, waits), optimum)
                self.assertEqual(self.solved(shop, without_most(waits)), free)
                self.assertEqual(kept(shop, waits, listed(shop, waits)), [])

    def test_one_that_cannot_be(self):
        shop = shop_of([(name, 3, "bo") for name in ("P1", "T1", "P2", "T2")], ["bo"])
        waits = waits_of(("P1", "T1", 1, 2), ("P2", "T2", 1, 2), ("P1", "P2", 0, 1))
        self.assertEqual(solve(shop, waits, QUICK), (None, "infeasible"))
        self.assertIsNone(listed(shop, waits))
        self.assertEqual(self.solved(shop, without_most(waits)), 12)

    def test_the_critical_path(self):
        # With hands and things to spare the length is that of the longest path, as networkx has it.
        rng = random.Random(5)
        for seed in range(4):
            acts = tuple(Act(f"{i}", f"{i}", "", rng.randint(1, 9) * H, hands=False) for i in range(12))
            pairs = [(i, j) for i, j in itertools.combinations(range(12), 2) if rng.random() < 0.25]
            waits = [Wait(f"{i}", f"{j}", rng.randint(0, 5) * H) for i, j in pairs]
            graph = networkx.DiGraph()
            for act in acts:
                graph.add_edge("from", act.id, weight=0.0)
                graph.add_edge(act.id, "to", weight=act.work_s)
            for wait in waits:
                graph.add_edge(wait.before, wait.after, weight=acts[int(wait.before)].work_s + wait.least_s)
            longest = networkx.dag_longest_path_length(graph)
            shop = Shop(0.0, 400 * H, acts, grid_s=H)
            with self.subTest(seed):
                self.assertEqual(self.solved(shop, waits), longest / H)
                heads = earliest(shop, waits)
                self.assertEqual(max(heads[a.id] + a.work_s for a in acts), longest)

    def test_every_plan_of_small_shops(self):
        # All begins on the grid tried one by one: the least end of those that `kept` lets pass is the solver's.
        rng = random.Random(9)
        for seed in range(3):
            there = ((0.0, 3 * H), (5 * H, 9 * H))
            acts = tuple(
                Act(f"{i}", f"{i}", "", rng.randint(1, 2) * H, then_s=H if i % 2 else 0.0, holds=("booth",) if i % 2 else (),
                    tacky_s=H if i % 2 else 0.0, dusty=i == 2, air="damp" if i == 1 else "")
                for i in range(4)
            )  # fmt: skip
            waits = waits_of(("0", "1", 0, 3), ("2", "3", 1, None))
            shop = Shop(
                0.0, 9 * H, acts, (Person("a", there),), {"booth": Shut()}, {"damp": ((2 * H, 3 * H),)}, grid_s=H
            )
            ends = []
            for begins in itertools.product(range(9), repeat=4):
                rows = {a.id: Placed(a.id, t * H, t * H + a.work_s, "a") for a, t in zip(acts, begins, strict=True)}
                if all(row.end_s <= 9 * H for row in rows.values()) and not kept(shop, waits, Plan(rows)):
                    ends.append(max(row.end_s for row in rows.values()))
            better, said = solve(shop, waits, QUICK)
            with self.subTest(seed):
                self.assertEqual(said, "feasible" if ends else "infeasible")
                if ends:
                    self.assertEqual(better.length_s, min(ends))


def random_shop(seed, zones=6, steps=5, days=10, people=2):
    """A shop of one booth with nights, a weekend, damp hours, dust and windows."""
    rng = random.Random(seed)
    acts, waits = [], []
    there = tuple((d * 24 * H + 7 * H, d * 24 * H + 17 * H) for d in range(days) if d % 7 < 5)
    damp = tuple((d * 24 * H + 7 * H, d * 24 * H + 10 * H) for d in range(days) if rng.random() < 0.2)
    for z in range(zones):
        for k in range(steps):
            coat = k % 2 == 1
            act = Act(
                f"{z}.{k}", f"{z}", "", rng.randint(2, 9) * 300.0, job="j", uses=("gun",) if coat else (),
                holds=("booth",) if coat else (), then_s=900.0 if coat else 0.0, tacky_s=H if coat else 0.0,
                dusty=k == 2, air="damp" if coat else "", place=f"{z % 2}",
            )  # fmt: skip
            if k:
                least, most = (0.0, 4 * H) if coat else (rng.choice([1, 2, 4]) * H, rng.choice([None, 72 * H]))
                waits.append(Wait(f"{z}.{k - 1}", act.id, least, most))
            acts.append(act)
    crew = tuple(Person(f"p{i}", there if i or people == 1 else there[:-1]) for i in range(people))
    things = {"booth": Shut(1, ((34 * H, 36 * H),)), "gun": Shut(2)}
    return Shop(0.0, days * 24 * H, tuple(acts), crew, things, {"damp": damp}), waits


class RivalTests(SimpleTestCase):
    def test_never_longer_than_listing(self):
        for seed in range(30):
            shop, waits = random_shop(seed)
            rival = listed(shop, waits)
            with self.subTest(seed):
                self.assertEqual(kept(shop, waits, rival), [])
                better, _ = solve(shop, waits, replace(QUICK, seconds=0.2, hint=rival))
                self.assertEqual(kept(shop, waits, better.plan), [])
                self.assertLessEqual(better.length_s, max(rival.ends(shop).values()))
                floor = ends_no_sooner(shop, shop.acts, earliest(shop, waits))
                self.assertLessEqual(floor, better.length_s)

    def test_after_one_late_act_the_rest_stays(self):
        shop, waits = random_shop(2, zones=12, days=20, people=1)
        plan = solve(shop, waits, replace(QUICK, seconds=1.5, hint=listed(shop, waits)))[0].plan
        held = replace(shop, acts=tuple(replace(a, promised_s=plan[a.id].begin_s) for a in shop.acts))
        self.assertIsNone(near(held, waits, QUICK))  # nothing has changed
        late = min(plan.placed.values(), key=lambda row: row.begin_s)
        acts = tuple(replace(a, pinned_s=late.begin_s + 2 * H) if a.id == late.act else a for a in held.acts)
        changed = replace(held, acts=acts)
        found = near(changed, waits, replace(QUICK, seconds=2.0))
        self.assertEqual(kept(changed, waits, found), [])
        face = shop.by_id[late.act].face
        others = [a for a in held.acts if a.face != face and plan[a.id].begin_s >= late.begin_s + 36 * H]
        self.assertGreater(len(others), 3)
        self.assertTrue(all(found[a.id].begin_s == plan[a.id].begin_s for a in others))

    def test_aims_in_their_order(self):
        # Two jobs, one pair of hands: what is promised first is done first, though the other would be as short.
        there = ((0.0, 100 * H),)
        acts = (Act("a", "a", "", 6 * H, job="late"), Act("b", "b", "", 6 * H, job="soon"))
        shop = Shop(0.0, 100 * H, acts, (Person("p", there),), due={"soon": 6 * H, "late": 40 * H}, grid_s=H)
        better, _ = solve(shop, [], QUICK)
        self.assertEqual((better.plan["b"].begin_s, better.plan["a"].begin_s, better.late_s), (0, 6 * H, 0))
        # What was promised for tomorrow stays there although today is free, unless a job would be late by it.
        held = replace(shop, acts=(replace(acts[0], promised_s=30 * H), acts[1]))
        better, _ = solve(held, [], QUICK)
        self.assertEqual(better.moved, 0)
        self.assertGreater(better.plan["a"].begin_s, 17 * H)
        self.assertEqual(better.plan.moved(held), [])
        late = replace(held, due={"soon": 6 * H, "late": 20 * H})
        better, _ = solve(late, [], QUICK)
        self.assertEqual((better.late_s, better.moved, [a.id for a in better.plan.moved(late)]), (0, 1, ["a"]))
        # A wish is kept like a promise; what is fixed lies where it is fixed; a promise in the past is late, no more.
        wish = replace(
            shop, acts=(replace(acts[0], wished_s=60 * H), replace(acts[1], pinned_s=3 * H)), due={"soon": -5 * H}
        )
        better, _ = solve(wish, [], QUICK)
        self.assertLess(abs(better.plan["a"].begin_s - 60 * H), 12 * H)
        self.assertEqual((better.plan["b"].begin_s, better.late_s), (3 * H, 14 * H))


class TurnedTests(SimpleTestCase):
    def test_a_piece_lies_one_way_at_a_time(self):
        # Two faces upside down, one upright: a coat of an hour, tacky for two, half an hour to turn: 3.5 h apart.
        there = ((0.0, 40 * H),)
        acts = tuple(
            Act(name, name, "", H, job="j", tacky_s=2 * H, position=lies, place=name)
            for name, lies in (("a", "over"), ("b", "over"), ("c", "upright"), ("d", ""))
        )
        crew = tuple(Person(name, there) for name in "pqrs")
        shop = Shop(0.0, 40 * H, acts, crew, turn_s=H / 2, grid_s=H / 2)
        better, _ = solve(shop, [], QUICK)
        for plan in (better.plan, listed(shop, [])):
            self.assertEqual(kept(shop, [], plan), [])
            self.assertEqual(plan.end_of(acts), 4.5 * H)
        rows = dict(better.plan.placed) | {
            "c": Placed("c", 2 * H, 3 * H, "r"),
            "a": Placed("a", 0, H, "p"),
            "b": Placed("b", 0, H, "q"),
        }
        self.assertEqual({b.rule for b in kept(shop, [], Plan(rows))}, {"turned"})
        other = replace(shop, acts=(*acts[:2], replace(acts[2], job="i"), acts[3]))  # another piece lies as it likes
        self.assertEqual(solve(other, [], QUICK)[0].plan.end_of(other.acts), H)


class KeptTests(SimpleTestCase):
    """`kept` tells what a finished plan does not keep; each fault by hand."""

    def test_each_fault(self):
        there = ((0.0, 10 * H),)
        coat = Act("c", "1", "", H, uses=("gun",), holds=("booth",), then_s=H, tacky_s=2 * H, air="damp", place="s")
        sand = Act("s", "2", "", H, dusty=True, place="s")
        more = Act("m", "3", "", H, uses=("gun",), earliest_s=4 * H, latest_s=6 * H)
        pin = Act("p", "4", "", H, hands=False, pinned_s=2 * H)
        things = {"gun": Shut(), "booth": Shut(1, ((8 * H, 9 * H),))}
        shop = Shop(
            0.0, 20 * H, (coat, sand, more, pin), (Person("a", there), Person("b", there)), things,
            {"damp": ((6 * H, 7 * H),)}, (Pot(("c", "m"), 6 * H),), grid_s=300.0,
        )  # fmt: skip
        waits = [Wait("c", "s", 2 * H, 6 * H)]
        good = {"c": (0, "a"), "s": (3, "a"), "m": (4, "b"), "p": (2, "")}

        def rules(**moved):
            rows = good | moved
            placed = {a.id: Placed(a.id, t * H, t * H + a.work_s, who) for a in shop.acts for t, who in [rows[a.id]]}
            return sorted({broken.rule for broken in kept(shop, waits, Plan(placed))})

        for moved, broken in (
            ({}, []), ({"s": (2.5, "a")}, ["dust", "least"]), ({"s": (8, "a")}, ["most"]), ({"m": (3, "a")}, ["busy", "earliest"]),
            ({"m": (6.5, "b")}, ["latest", "pot"]), ({"m": (4, "c")}, ["hands"]), ({"p": (3, "")}, ["pinned"]),
            ({"c": (4.5, "a"), "s": (8, "a"), "m": (4, "b")}, ["air", "full"]), ({"s": (9.5, "a")}, ["hands", "most"]),
            ({"c": (7, "a"), "s": (9, "b"), "m": (5, "b")}, ["dust", "least", "shut"]),
        ):  # fmt: skip
            with self.subTest(moved):
                self.assertEqual(rules(**moved), broken)

    def test_bounds(self):
        self.assertEqual(meets([(0, 4), (6, 9)], [(3, 7), (8, 12)]), ((3, 4), (6, 7), (8, 9)))
        # 5 h of work through windows of 2 and 4 h: an hour before the second ends; two at once: half of what is left.
        windows = ((0.0, 2 * H), (10 * H, 14 * H))
        self.assertEqual(filled_s(windows, 5 * H, 1), 13 * H)
        self.assertEqual(filled_s(windows, 6 * H, 2), 11 * H)
        self.assertEqual(filled_s(windows, 5 * H, 1, H), 10 * H + H)
        self.assertEqual(filled_s(windows, 9 * H, 1), float("inf"))
        # Told in any order, what comes before stands before, and begins no sooner than that lets it.
        chain = shop_of([("c", 1, "x"), ("b", 2, "y"), ("a", 3, "z")], ["x", "y", "z"])
        waits = waits_of(("a", "b", 1, None), ("b", "c", 0, None), ("a", "c", 0, None))
        self.assertEqual([a.id for a in in_order(chain, waits_before(chain, waits))], ["a", "b", "c"])
        self.assertEqual(earliest(chain, waits), {"a": 0, "b": 4 * H, "c": 6 * H})
        ring = shop_of([("a", 1, "x"), ("b", 1, "x"), ("c", 1, "x")], ["x"])
        waits = waits_of(("a", "b", 0, None), ("b", "a", 0, None))
        self.assertEqual({a.id for a in rings(ring, waits_before(ring, waits))}, {"a", "b"})
        self.assertIsNone(listed(ring, waits))


EPOXY = read(
    {
        "format": "emplastra-sheet/1", "product": "Epoxy", "kind": "epoxy-primer", "form": "ready", "source": "this test",
        "date": "2026-01-01", "components": [{"key": "p", "name": "Epoxy", "role": "ready", "density_g_ml": 1.3, "solids_pct": 50}],
        "film": {"min_um": 30, "typical_um": 40, "max_um": 60, "coats": 3},
        "times": {"flash": [[20, 20]], "sandable": [[20, 480]], "touch": [[20, 45]]},
        "windows": [
            {"next": "self", "opens": [[20, 60]], "closes": [[20, 600]]},
        ],
    }
)  # fmt: skip


class FaceTests(SimpleTestCase):
    """A face's plan walked by the clock, in air of 20 °C and 50 %, where each time is the sheet's own."""

    def face(self, steps, happened=(), **more):
        air = steady(20.0, 50.0, -90 * 24 * H, 90 * 24 * H)
        setting = Setting("steel", journey([(-90 * 24 * H, air, "Shop")]), None, 0.0, OPEN_FACE)
        sheets = {"Epoxy": EPOXY}
        surface = build(list(happened), 0.0)
        return FaceAsk(
            "7",
            "Side",
            "1",
            surface,
            progress_of(steps, list(happened), 0.0),
            setting,
            sheets,
            lambda step: H / 2,
            **more,
        )

    def test_each_act_meets_its_clock(self):
        steps = (
            PlanStep("strip", "strip"), PlanStep("wipe", "degrease"), PlanStep("prime", "prime", "Epoxy", 2, 40.0),
            PlanStep("key", "block"), PlanStep("wipe2", "degrease"), PlanStep("more", "seal", "Epoxy", 1, 40.0),
        )  # fmt: skip
        met = {each.act.id.split(":", 1)[1]: each for each in walk(self.face(steps))}
        self.assertEqual(list(met), ["strip:1", "wipe:1", "prime:1", "prime:2", "key:1", "wipe2:1", "more:1"])
        first = met["prime:1"]
        closes = {c.why: (c.t_s, c.since) for c in first.closes}
        # A wipe is good for an hour from its end; bare steel at 50 % for sqrt(24 · 6) = 12 h from when its baring began.
        self.assertEqual(closes["the wipe lapses before Epoxy"], (met["wipe:1"].end_s + H, "7:wipe:1"))
        self.assertAlmostEqual(closes["bare metal rusts"][0], met["strip:1"].begin_s + 12 * H, delta=60)
        self.assertEqual((round(first.act.then_s), round(first.act.tacky_s)), (20 * 60, 45 * 60))
        # The second coat an hour after the first's end, ten from its begin; sanded 8 h after its end.
        second = met["prime:2"]
        self.assertEqual([round(o.t_s) for o in second.opens], [first.end_s + H])
        self.assertEqual([round(c.t_s) for c in second.closes], [first.begin_s + 10 * H])
        self.assertEqual([round(o.t_s) for o in met["key:1"].opens], [second.end_s + 8 * H])
        self.assertEqual((met["key:1"].act.dusty, second.act.dusty), (True, False))
        # Keyed, it stays open for a day from there, not only for its own 10 h.
        last = {c.why: c.t_s for c in met["more:1"].closes}
        self.assertEqual(last["the window of Epoxy closes"], met["key:1"].end_s + 24 * H)
        self.assertEqual(missed(list(met.values())), [])

    def test_windows_by_what_has_happened_and_missed_ones(self):
        steps = (PlanStep("prime", "prime", "Epoxy", 2, 40.0),)
        coat = events.Coated(-2 * H, -1.5 * H, 1.0, "prime", 1, EPOXY, product="Epoxy")
        (met,) = walk(self.face(steps, [coat]))
        self.assertEqual([(o.t_s, o.since) for o in met.opens], [(-0.5 * H, "")])
        self.assertEqual([(c.t_s, c.since) for c in met.closes], [(8 * H, "")])
        late = walk(self.face(steps, [coat]), {met.act.id: (8 * H + 120, 9 * H)})
        self.assertEqual([(m.by_s, m.early) for m in missed(late)], [(120.0, False)])
        self.assertEqual(missed(walk(self.face(steps, [coat]), {met.act.id: (8 * H + 30, 9 * H)})), [])
        past = replace(coat, began_s=-20 * H, ended_s=-19.5 * H)
        key, again = walk(self.face(steps, [past]))
        self.assertEqual((key.act.name, again.act.step), ("Key again", "prime"))
        self.assertEqual([c.t_s for c in again.closes], [key.end_s + 24 * H])

    def test_long_work_in_parts_and_contractors(self):
        steps = (PlanStep("strip", "strip"), PlanStep("out", "contractor"))
        face = replace(self.face(steps), lasts=lambda step: 9 * H)
        met = walk(face)
        self.assertEqual(
            [(m.act.name, m.act.work_s / H) for m in met[:3]], [(f"Strip, part {n}", 3.0) for n in (1, 2, 3)]
        )
        self.assertEqual((met[3].act.hands, met[3].act.work_s), (False, 3 * 24 * H))
        self.assertEqual(walk(replace(face, due_back_s=50 * H))[3].act.work_s, 50 * H)

    def test_planned_in_rounds_every_window_is_kept_by_the_clock(self):
        steps = (
            PlanStep("wipe", "degrease"), PlanStep("prime", "prime", "Epoxy", 2, 40.0), PlanStep("key", "block"),
            PlanStep("more", "seal", "Epoxy", 1, 40.0),
        )  # fmt: skip
        face = self.face(steps, [events.Bared(-H, -H / 2)])
        there = tuple((d * 24 * H, d * 24 * H + 9 * H) for d in range(6))
        shop = Shop(0.0, 6 * 24 * H, (), (Person("p", there),), {"gun": Shut()}, due={"1": 4 * 24 * H})
        said = []
        found = plan_days(Days((face,), shop), QUICK, lambda words, better: said.append(words))
        self.assertEqual((found.said, found.missed), ("feasible", []))
        self.assertEqual(kept(found.shop, found.waits, found.plan), [])
        self.assertIn("round 1 of 4 at most", said)
        # The wipe, two coats with an hour between on the first day; sanding after 8 h is for the next morning.
        begins = {m.act.id: found.plan[m.act.id].begin_s for m in found.mets.values()}
        self.assertEqual(begins["7:key:1"], 24 * H)
        # Taken, and asked again with its windows where they were: what was promised for a later day stays there.
        later = {key: t_s + (24 * H if key in {"7:key:1", "7:more:1"} else 0.0) for key, t_s in begins.items()}
        held = plan_days(Days((replace(face, promised=later),), shop), replace(QUICK, seconds=3))
        self.assertEqual((held.plan.moved(held.shop), held.missed), ([], []))
        # With nobody on the second and third day the last coat would miss nothing: it waits for its key.
        gone = replace(shop, crew=(Person("p", (there[0], *there[3:])),))
        found = plan_days(Days((face,), gone), QUICK)
        self.assertEqual((found.plan["7:key:1"].begin_s, found.missed), (3 * 24 * H, []))
        # With nobody from the third hour on the second coat cannot be had within its 10 h: it is the one that is missed.
        none = replace(shop, crew=(Person("p", ((0.0, 1.2 * H), *there[2:])),))
        found = plan_days(Days((face,), none), QUICK)
        self.assertEqual(
            [(m.act.id, m.early, m.why) for m in found.missed], [("7:prime:2", False, "the window of Epoxy closes")]
        )
        # Nobody at all.
        self.assertEqual(plan_days(Days((face,), replace(shop, crew=())), QUICK).said, "infeasible")

    def test_the_more_careful_of_two_rounds(self):
        now = [Wait("a", "b", 5.0, 50.0, "x"), Wait("a", "c", 1.0, None, "x")]
        before = [Wait("a", "b", 7.0, 60.0, "x"), Wait("a", "c", 0.5, 9.0, "x")]
        self.assertEqual([(w.least_s, w.most_s) for w in careful(now, before)], [(7.0, 50.0), (1.0, 9.0)])

    def test_minutes(self):
        # 2 m2: a gun 10 + 10 + 2 · 6, a brush 10 + 2 · 14, keying 10 + 2 · 12, a weld an hour (common practice, no source).
        rows = (("prime", "hvlp", 32), ("prime", "brush", 38), ("abrade", "hvlp", 34), ("weld", "hvlp", 60))
        for kind, method, told in rows:
            with self.subTest(kind=kind, method=method):
                self.assertEqual(minutes(PlanStep("x", kind, "P", method=method), 2.0), told)
        self.assertEqual(minutes(PlanStep("x", "strip"), 2.0, 1.5), 100)


class ClashTests(SimpleTestCase):
    """Why a window cannot be kept: every set of reasons tried beside the one that is told."""

    def shop(self, **more):
        there = ((0.0, 9 * H), (48 * H, 57 * H))
        first = Act("c1", "1", "coat 1", H / 2, pinned_s=2 * H)
        second = Act("c2", "1", "coat 2", H / 2, air="damp", uses=("gun",))
        other = Act("o", "2", "other", 2 * H)
        crew = (Person("p", there), Person("q", (there[0],)))
        told = {"things": {"gun": Shut(1, ((5 * H, 6 * H),))}, "closed": {"damp": ((12 * H, 16 * H),)}} | more
        return Shop(0.0, 96 * H, (first, second, other), crew, **told)

    def test_the_smallest_set(self):
        # Coat 1 ends at 2:30; coat 2 may follow 10 h later, at 12:30, and must by 22:30: nobody is there from 9 to 48.
        waits = [Wait("c1", "c2", 10 * H, 20 * H)]
        shop = self.shop()
        found = smallest(shop, waits, shop.by_id["c2"])
        self.assertEqual(
            [(r.kind, r.what, r.span) for r in found], [("fixed", "c1", None), ("hours", "", (9 * H, 48 * H))]
        )
        # With the window open until Thursday it can be kept, and there is nothing to tell.
        self.assertIsNone(smallest(shop, [Wait("c1", "c2", 10 * H, 60 * H)], shop.by_id["c2"]))
        # Damp in all hours that are left instead of a pause: hours and air together.
        damp = self.shop(closed={"damp": ((2 * H, 9 * H),)})
        waits = [Wait("c1", "c2", H, 20 * H)]
        self.assertEqual({r.kind for r in smallest(damp, waits, damp.by_id["c2"])}, {"fixed", "hours", "air"})
        # The last coat of a window that has begun already, the gun shut, and another face's window that takes the hands.
        busy = replace(
            shop,
            acts=(replace(shop.acts[1], latest_s=H), replace(shop.acts[2], latest_s=0.0), shop.acts[0]),
            crew=shop.crew[:1],
        )
        self.assertEqual([(r.kind, r.what) for r in smallest(busy, [], busy.acts[0])], [("face", "2")])
        shut = replace(busy, acts=busy.acts[:1], things={"gun": Shut(1, ((0.0, 2 * H),))})
        self.assertEqual([(r.kind, r.what) for r in smallest(shut, [], shut.acts[0])], [("thing", "gun")])

    def test_coats_of_one_pot_and_a_window_that_nothing_keeps(self):
        # One hand, a coat of an hour on each of two faces from a pot that lives 90 min: two hours are too long.
        acts = tuple(Act(name, name, "", H, latest_s=5 * H) for name in "ab")
        crew = (Person("p", ((0.0, 20 * H),)),)
        shop = Shop(0.0, 24 * H, acts, crew, pots=(Pot(("a", "b"), 1.5 * H, "red"),))
        self.assertEqual([(r.kind, r.what) for r in smallest(shop, [], acts[0])], [("face", "b"), ("pot", "red")])
        # A film that may be coated after 4 h, and no later than after 2: nothing else stands in its way.
        alone = Shop(0.0, 24 * H, (Act("c", "c", "", H), Act("d", "c", "", H)), crew)
        self.assertEqual(smallest(alone, [Wait("c", "d", 4 * H, 2 * H)], alone.acts[1]), [])

    def test_none_of_them_can_be_left_out(self):
        # On small shops: what is told clashes, and without any single one of it the window can be kept.
        rng = random.Random(3)
        told = 0
        for seed in range(8):
            shop, waits = random_shop(seed, zones=3, steps=3, days=3, people=2)
            act = shop.acts[rng.randint(3, 8)]
            tight = replace(
                shop, acts=tuple(replace(a, latest_s=rng.randint(1, 12) * H) if a is act else a for a in shop.acts)
            )
            found = smallest(tight, waits, tight.by_id[act.id])
            if not found:
                continue
            told += 1
            part = _Part(tight, waits, tight.by_id[act.id])
            with self.subTest(seed):
                self.assertFalse(part.can_be(found))
                for one in found:
                    self.assertTrue(part.can_be([r for r in found if r != one]))
        self.assertGreater(told, 3)

    def test_the_fewest_windows_are_missed_where_one_has_to_be(self):
        # Three coats of an hour that all close at 2: one hand keeps two of them, and says which it misses.
        acts = tuple(Act(f"{i}", f"{i}", "", H, latest_s=H) for i in range(3))
        shop = Shop(0.0, 24 * H, acts, (Person("p", ((0.0, 24 * H),)),), grid_s=H)
        self.assertEqual(solve(shop, [], QUICK)[1], "infeasible")
        better, _ = solve(shop, [], replace(QUICK, soft=True))
        self.assertEqual([b.rule for b in kept(shop, [], better.plan)], ["latest"])

    def test_what_no_plan_has_room_for(self):
        shop = self.shop(closed={"damp": ((0.0, 96 * H),)})
        acts = (*shop.acts, Act("long", "3", "", 20 * H), Act("cold", "4", "", H, earliest_s=float("inf")))
        ring = [Wait("o", "c1"), Wait("c1", "o")]
        self.assertEqual({(a.id, why) for a, why in impossible(replace(shop, acts=acts), ring)},
                         {("o", "ring"), ("c1", "ring"), ("long", "long"), ("cold", "still"), ("c2", "air")})  # fmt: skip
        self.assertEqual({why for _, why in impossible(replace(shop, crew=()), [])}, {"nobody"})
