"""A plan replayed in many weathers: ten draws by the exact clock, a plain loop over each draw, spreads as they were told."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from emplastra.core.air import lag
from emplastra.core.air.dewpoint import Limits
from emplastra.core.air.journey import Air, journey, steady
from emplastra.core.metal.repair import Factor
from emplastra.core.product.tables import TimeTable
from emplastra.core.schedule import draws as core
from emplastra.core.schedule.faces import Limit, Met
from emplastra.core.schedule.work import Act, Person, Placed, Plan, Shop, Shut
from emplastra.core.surface.bare import bare_table
from emplastra.core.surface.integral import crossing

H = 3600.0
HOURS = np.arange(0.0, 96 * H, H)
TABLE = TimeTable(((10.0, 600.0), (20.0, 240.0), (30.0, 120.0)))
CLOSES = TimeTable(((10.0, 2880.0), (20.0, 1440.0), (30.0, 700.0)), "max")


def hourly(air_c, dew_c):
    """Air through hourly knots [°C]."""
    t = np.concatenate([[-200 * H], HOURS])
    grow = [np.concatenate([[x[0]], x]) for x in (air_c, dew_c)]
    return Air(t, *grow, np.zeros(len(t) - 1, np.int8), first_s=-200 * H, last_s=float(t[-1]))


def day_of(mean, swing):
    return mean + swing * np.sin(HOURS / 86400 * 2 * np.pi)


class WeatherTests(SimpleTestCase):
    def test_metal_behind_an_error_of_the_air(self):
        error = np.random.default_rng(1).normal(0, 2, (3, len(HOURS)))
        error[:, 0] = 0.0
        for tau in (0.0, 900.0, 7200.0):
            for row, found in zip(error, core.behind(error, tau), strict=True):
                self.assertLess(np.abs(found - lag.follow(HOURS, row, tau, 0.0)).max(), 1e-9)

    def test_ten_draws_by_the_exact_clock(self):
        """Laws over hourly sums against the clock that pages ask, in air made anew for each draw: within 10 minutes."""
        rng = np.random.default_rng(4)
        base_air, base_dew = day_of(16.0, 6.0), day_of(9.0, 1.5)
        errors = np.cumsum(rng.normal(0, 0.4, (10, len(HOURS))), axis=1)
        errors[:, 0] = 0.0
        made = core.Draws(HOURS, errors, np.zeros_like(errors))
        tau = lag.shared_lag_s(1200.0)
        where = journey([(-200 * H, hourly(base_air, base_dew), "Shop")], tau)
        weather = core.Weather(made, {})
        starts = rng.uniform(0, 40 * H, 10)
        for law, target in ((TABLE, 1.0), (TABLE, 2.5), (CLOSES, 1.0), (bare_table("steel"), 1.0)):
            limit = crossing(where, law, 0.0, target)
            found = weather.over_s(limit, starts)
            for k in range(10):
                air_c = base_air + errors[k]
                alone = journey([(-200 * H, hourly(air_c, np.minimum(base_dew, air_c)), "Shop")], tau)
                exact = crossing(alone, law, float(starts[k]), target).t_s
                with self.subTest(law=law, target=target, draw=k):
                    self.assertLess(abs(found[k] - exact), 600.0)
        # One that began before the grid has its past behind it.
        before = crossing(where, TABLE, -2 * H)
        exact = before.t_s
        still = core.Weather(core.Draws(HOURS, np.zeros((2, len(HOURS))), np.zeros((2, len(HOURS)))), {})
        self.assertLess(abs(still.over_s(before, np.full(2, -2 * H))[0] - exact), 600.0)
        self.assertTrue(np.isinf(still.over_s(crossing(where, TABLE, 0.0, 99.0), np.zeros(2))).all())

    def test_errors_are_those_of_the_past(self):
        past = np.arange(100.0)
        made = core.drawn(HOURS, past, -past, 50, 2.0)
        self.assertTrue((np.diff(made.air_k[:, :24], axis=1) == 1.0).all())  # whole stretches of a day
        self.assertTrue((made.dew_k == -made.air_k).all())
        self.assertGreater(len(set(made.air_k[:, 0])), 20)
        plain = core.drawn(HOURS, past[:10], past[:10], 4000, 2.0)
        self.assertAlmostEqual(float(plain.air_k.std()), 2.0, delta=0.05)
        self.assertAlmostEqual(float(np.corrcoef(plain.air_k[:, 10], plain.air_k[:, 22])[0, 1]), np.exp(-1), delta=0.05)
        self.assertTrue(
            (core.drawn(HOURS, past, past, 5, 2.0).air_k == core.drawn(HOURS, past, past, 5, 2.0).air_k).all()
        )

    def test_hours_run_over_as_they_did(self):
        # 80 % between low and high, the middle as planned; acts of one kind run over together, but not wholly.
        acts = [Act("a", "1", "", H), Act("b", "1", "", H), Act("c", "1", "", H, hands=False), Act("d", "1", "", H)]
        hands = core.Hands(
            {"prime": Factor(1.5, 1.0, 2.25, 9)}, {"a": "prime", "b": "prime", "c": "prime", "d": "none"}
        )
        found = hands.times(acts, core.drawn(HOURS, np.array([]), np.array([]), 20000, 1.0))
        low, middle, high = np.quantile(found["a"], [0.1, 0.5, 0.9])
        self.assertAlmostEqual(middle, 1.0, delta=0.02)
        self.assertAlmostEqual(high, 1.5, delta=0.03)
        self.assertAlmostEqual(low, 1 / 1.5, delta=0.02)
        self.assertAlmostEqual(float(np.corrcoef(np.log(found["a"]), np.log(found["b"]))[0, 1]), 0.75, delta=0.03)
        self.assertTrue((found["c"] == 1.0).all() and (found["d"] == 1.0).all())

    def test_hours_in_which_the_air_closes(self):
        where = journey([(-200 * H, steady(20.0, 50.0, -200 * H, 200 * H), "Shop")])
        errors = np.zeros((2, len(HOURS)))
        errors[1, 5:9] = -9.0
        weather = core.Weather(core.Draws(HOURS, errors, np.zeros_like(errors)), {})
        shut = weather.shut(where, Limits(air_c=(12.0, None)))
        self.assertEqual((shut[0].any(), list(np.nonzero(shut[1])[0])), (False, [5, 6, 7, 8]))
        # Another place has draws of its own.
        warm = core.Draws(HOURS, np.full_like(errors, 30.0), np.zeros_like(errors))
        self.assertTrue(
            core.Weather(warm, {"Shop": core.Draws(HOURS, errors, errors * 0)}).shut(where, Limits(air_c=(12, None)))[
                1, 5
            ]
        )


class ReplayTests(SimpleTestCase):
    """Against a plain loop over draws and acts, written from the rules and not from the program."""

    def asked(self, count=40):
        rng = np.random.default_rng(7)
        errors = np.cumsum(rng.normal(0, 0.6, (count, len(HOURS))), axis=1)
        made = core.Draws(HOURS, errors, np.zeros_like(errors))
        where = journey([(-200 * H, hourly(day_of(15.0, 5.0), day_of(8.0, 1.0)), "Shop")], 0.0)
        there = tuple((d * 24 * H + 7 * H, d * 24 * H + 17 * H) for d in range(4))
        acts = (
            Act("a", "1", "", 2 * H, job="j"), Act("b", "1", "", H, job="j", air="k", then_s=H / 2, holds=("booth",)),
            Act("c", "2", "", 3 * H, job="i"), Act("d", "2", "", H, job="i", air="k", holds=("booth",)),
        )  # fmt: skip
        shop = Shop(0.0, 96 * H, acts, (Person("p", there), Person("q", there)), {"booth": Shut()}, due={"j": 40 * H})
        rows = {"a": (7, "p"), "b": (31, "p"), "c": (7, "q"), "d": (33, "q")}
        plan = Plan({a.id: Placed(a.id, t * H, t * H + a.work_s, who) for a in acts for t, who in [rows[a.id]]})
        opens, closes = crossing(where, TABLE, 9 * H), crossing(where, CLOSES, 7 * H)
        mets = {
            "a": Met(acts[0], 7 * H, 9 * H), "c": Met(acts[2], 7 * H, 10 * H),
            "b": Met(acts[1], 31 * H, 32 * H, [Limit(opens.t_s, "a", "", opens)], [Limit(closes.t_s, "a", "", closes, True), Limit(H, "", "", again=True)]),
            "d": Met(acts[3], 33 * H, 34 * H, [], [Limit(34 * H, "c", "", None)]),
        }  # fmt: skip
        limits = {"b": (where, Limits(air_c=(11.0, None))), "d": (where, Limits(air_c=(11.0, None)))}
        hands = core.Hands({"prime": Factor(1.0, 0.7, 1.4, 9)}, dict.fromkeys("abcd", "prime"))
        asked = core.Asked(shop, plan, mets, limits, {"b": ["a"], "d": ["c"]}, hands, {"k": ((34 * H, 35 * H),)})
        return asked, made, where, there

    def test_each_draw_by_hand(self):
        asked, made, where, there = self.asked()
        found = core.replay(asked, made)
        times, weather = asked.hands.times(asked.shop.acts, made), core.Weather(made, {})
        shut = weather.shut(where, Limits(air_c=(11.0, None))) | ((HOURS + H > 34 * H) & (HOURS < 35 * H))

        def fits(t, work, need, k, air):
            while True:
                day = next(((a, b) for a, b in there if max(t, a) + work <= b + 1), None)
                if day is None:
                    return max(t, 96 * H)
                t = max(t, day[0])
                if not air:
                    return t
                hour = int(t // H)
                while hour * H < t + need - 1 and not shut[k, hour]:
                    hour += 1
                if hour * H >= t + need - 1:
                    return t
                t = (hour + 1) * H if hour > int(t // H) or shut[k, hour] else t

        misses = 0
        for k in range(made.count):
            work = {a.id: a.work_s * times[a.id][k] for a in asked.shop.acts}
            begins, ends, taken = {}, {}, {}

            def free(t, names, taken=taken):
                """A day begins in the night, six hours before the grid does."""
                return max([t, *(taken.get((name, (t + 6 * H) // 86400), 0.0) for name in names)])

            for name, who in (("a", "p"), ("c", "q"), ("b", "p"), ("d", "q")):
                begin = asked.plan[name].begin_s
                if name == "b":
                    begin = max(
                        begin,
                        ends["a"],
                        weather.over_s(asked.mets["b"].opens[0].law, np.full(made.count, ends["a"]))[k],
                    )
                if name == "d":
                    begin = max(begin, ends["c"])
                need, names = work[name] + (H / 2 if name == "b" else 0.0), (who, "booth") if name in "bd" else (who,)
                before = None
                while before != begin:
                    before, begin = begin, fits(free(begin, names), work[name], need, k, name in "bd")
                begins[name], ends[name] = begin, begin + work[name]
                for each in names:
                    until = ends[name] + (H / 2 if each == "booth" and name == "b" else 0.0)
                    key = each, (begin + 6 * H) // 86400
                    taken[key] = max(taken.get(key, 0.0), until)
            for name in "abcd":
                self.assertAlmostEqual(found.begins[name][k], begins[name], delta=1.0)
            closes = weather.over_s(asked.mets["b"].closes[0].law, np.full(made.count, begins["a"]))[k]
            self.assertEqual(found.missed["b"][k], begins["b"] > closes + 60)
            self.assertEqual(found.missed["d"][k], begins["d"] > ends["c"] + 24 * H + 60)
            misses += found.missed["b"][k]
        self.assertNotIn(found.all_kept, (0.0, 1.0))
        self.assertTrue(0 < misses < made.count)

    def test_what_never_opens_in_a_draw_is_missed_at_the_end(self):
        asked, made, where, _ = self.asked(4)
        never = crossing(where, TABLE, 9 * H, 50.0)
        met = asked.mets["b"]
        mets = asked.mets | {
            "b": replace(met, opens=[Limit(None, "a", "", never)]),
            "d": replace(asked.mets["d"], opens=[Limit(never.t_s, "c", "", never)]),
        }
        found = core.replay(replace(asked, mets=mets), made)
        self.assertTrue(found.missed["b"].all() and found.missed["d"].all())
        self.assertTrue((found.begins["b"] >= made.t_s[-1]).all() and np.isfinite(found.begins["b"]).all())

    def test_what_is_told_of_them(self):
        asked, *_ = self.asked(3)
        found = core.Replay(
            {"a": np.array([8, 30, 8]) * H, "b": np.array([9, 31, 33]) * H, "c": np.zeros(3), "d": np.zeros(3)},
            {"a": np.array([9, 32, 9]) * H, "b": np.array([10, 32, 34]) * H, "c": np.zeros(3), "d": np.zeros(3)},
            {"b": np.array([False, True, True]), "d": np.array([False, False, True])},
        )
        self.assertEqual(found.riskiest(), ("b", 2 / 3))
        self.assertAlmostEqual(found.all_kept, 1 / 3)
        self.assertEqual(list(found.job_ends(asked.shop)["j"] / H), [10, 32, 34])
        rows = found.hours_on(asked.shop, np.array([0.5, 24.0, 48.0]) * H)
        self.assertEqual([list(row) for row in rows], [[2.0, 0.0, 1.0], [0.0, 3.0, 1.0]])
        self.assertEqual(core.Replay({}, {}, {}).all_kept, 1.0)
        self.assertEqual(core.Replay({}, {}, {"x": np.zeros(2, bool)}).riskiest(), ("", 0.0))
