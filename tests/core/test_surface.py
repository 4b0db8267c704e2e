"""The fold, the plan and verdicts, with constant tables so that every hour is plain arithmetic."""

import copy
import math

import numpy as np
import psychrolib
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.air import dewpoint, lag
from emplastra.core.air import journey as air
from emplastra.core.product import sheet as sheets
from emplastra.core.product import tables
from emplastra.core.product.film import Film
from emplastra.core.rules.face import PotTimes
from emplastra.core.rules.facts import holds
from emplastra.core.surface import bare
from emplastra.core.surface import integral as clock
from emplastra.core.surface.clocks import closing_from, fold, status_of
from emplastra.core.surface.events import Access, Bared, Coated, Degreased, Gauged, Heated, Keyed
from emplastra.core.surface.fold import Toward, build
from emplastra.core.surface.names import Status
from emplastra.core.surface.plan import PlanStep, progress_of
from emplastra.core.surface.steps import STAGES, STEPS, stage_of
from emplastra.core.working import Basis
from emplastra.logbook.models import Kind
from tests.base import CAN, PRIMER
from tests.rulings import coat_said

H = 3600.0
SHEET = sheets.read(PRIMER)
SELF = Toward("Test primer", "epoxy-primer")
FILM = Film(50.0, Basis.ASSUMED, "plan")


def where(temp=20.0, rh=50.0):
    """Steady air for ten weeks round the epoch."""
    return air.journey([(0, air.steady(temp, rh, -70 * 86400.0, 70 * 86400.0, Basis.MEASURED), "shop")])


def coat(began, ended, share=1.0, step="p", entry=1, sheet=SHEET):
    """A coat from hour to hour."""
    return Coated(began * H, ended * H, share, step, entry, sheet, FILM, sheet.product if sheet else "Unknown")


class FoldTests(SimpleTestCase):
    """Test primer: flash 20 min, opens for itself after 2 h from the end, closes 24 h from the begin."""

    def at(self, events, hour, toward=SELF, substrate="steel", **more):
        return fold(events, substrate, where(**more), hour * H, toward)

    def test_what_must_have_passed_counts_from_the_end_and_what_must_not_be_exceeded_from_the_begin(self):
        recoat = self.at([coat(0, 1)], 1.5).clock("recoat")
        self.assertAlmostEqual(recoat.opens_s / H, 3.0, places=5)
        self.assertAlmostEqual(recoat.closes_s / H, 24.0, places=5)
        self.assertAlmostEqual(self.at([coat(0, 1)], 1.5).clock("flash").opens_s / H, 1 + 1 / 3, places=5)

    def test_a_gauge_says_what_lies_there_and_what_is_new_by_difference(self):
        """Two coats of 50 planned read 80 in all: 40 each. One of 50 more, 30 sanded off it, read 95 in all: 15 left."""
        gauge = lambda at, mean, least, entry: Gauged(at * H, at * H, 1.0, "", entry, mean, least, 9)  # noqa: E731
        first = [coat(0, 1), coat(3, 4, entry=2), gauge(5, 80, 70, 3)]
        surface = self.at(first, 6)
        self.assertEqual([(x.left_um, x.least_um, x.film.basis.name) for x in surface.layers], [(40, 35, "MEASURED")] * 2)  # fmt: skip
        more = [*first, coat(7, 8, step="q", entry=4), Keyed(20 * H, 20 * H, 1.0, "", 5, "P400", 30.0), gauge(21, 95, 82, 6)]  # fmt: skip
        surface = self.at(more, 22)
        self.assertEqual([(x.left_um, x.least_um) for x in surface.layers], [(40, 35), (40, 35), (15, 2)])
        self.assertEqual(surface.top.film.dft_um, 45)
        # Read again with nothing new on it, the uppermost takes the difference; thinner than what lay under it is none.
        self.assertEqual([x.left_um for x in self.at([*more, gauge(23, 90, 60, 7)], 24).layers], [40, 40, 10])
        self.assertEqual([x.left_um for x in self.at([*more, gauge(23, 60, 60, 7)], 24).layers], [40, 40, 0])
        # Of a coat of which nobody knows the film it is what is left over; bare metal has none.
        unknown = [Coated(0.0, H, 1.0, "p", 1, SHEET, Film(None, Basis.ASSUMED, ""), "Test primer"), gauge(5, 80, 70, 3)]  # fmt: skip
        self.assertEqual([x.left_um for x in self.at(unknown, 6).layers], [80])
        self.assertEqual(self.at([Bared(0, H), gauge(2, 80, 70, 2)], 3).layers, ())

    def test_a_schedule_that_was_done_is_hard(self):
        """Cured after a week by the air; half an hour at 60 °C after 10 min of flash does it, 29 min do not."""
        sheet = sheets.read(
            {**PRIMER, "schedules": [{"how": "force-dry", "metal_c": 60, "minutes": 30, "flash_min": 10}]}
        )
        warm = lambda at, minutes: Heated(at * H, at * H + 3600, 1.0, "", 9, ((0.0, 60.0), (15.0, 60.0), (minutes, 60.0)))  # noqa: E731  # fmt: skip
        for event, hard in (
            (warm(1.5, 30.0), True),
            (warm(1.5, 29.0), False),
            (warm(1.0, 30.0), False),
            (warm(1.0, 34.9), False),
        ):
            with self.subTest(event.points):
                surface = self.at([coat(0, 1, sheet=sheet), event], 3)
                self.assertEqual(surface.top.forced_s is not None, hard)
                cure = surface.clock("cure")
                self.assertEqual(cure.status.value == "open", hard)
                self.assertEqual("by its schedule" in cure.note, hard)

    def test_headlines_over_a_day(self):
        """Opening at 3 h, p_max there is 1/8, so closing begins at p = 1 − 0.2·7/8: 19.8 h."""
        table = [(0.5, "resting"), (1.2, "waiting"), (3.1, "open"), (19.7, "open"), (19.9, "closing"), (24.1, "missed")]
        for hour, status in table:
            with self.subTest(hour):
                self.assertEqual(self.at([coat(0, 1)], hour).headline, status)
        self.assertTrue(self.at([coat(0, 1)], 0.5).in_work)

    def test_closing_is_clamped(self):
        """Never more than 12 h before the close, at least the lead time before it, never before it opens."""
        table = tables.TimeTable(((20, 6000),), "max")  # 100 h
        start = closing_from(where(), table, 0.0, 10 * H, 100 * H, 0.0)
        self.assertAlmostEqual(start / H, 88.0, places=4)
        short = tables.TimeTable(((20, 600),), "max")  # 10 h: 0.2 of what is left after opening at 9 h is 0.2 h
        self.assertAlmostEqual(closing_from(where(), short, 0.0, 9 * H, 10 * H, 0.5 * H) / H, 9.5, places=4)
        self.assertAlmostEqual(closing_from(where(), short, 0.0, 9.9 * H, 10 * H, 0.5 * H) / H, 9.9, places=4)

    def test_keying_clears_missed_for_a_day_and_takes_film(self):
        events = [coat(0, 1), Keyed(30 * H, 31 * H, grit="P240", um_off=8.0, entry=2)]
        self.assertEqual(self.at(events, 30.5).headline, "missed")
        after = self.at(events, 32)
        self.assertEqual((after.headline, after.lead.kind), ("open", "keyed"))
        self.assertEqual(after.top.left_um, 42.0)
        self.assertEqual(self.at(events, 31 + 24.1).headline, "missed")

    def test_a_window_missed_is_open_again_once_all_of_it_is_keyed(self):
        """Half keyed at 31 h, half at 41, the first half again at 61: until a day after the older of the two newest, the last fifth of it closing."""
        half = [Keyed((t - 1) * H, t * H, 0.5, grit="P240", entry=n) for n, t in enumerate((31, 41, 61), 2)]
        table = [
            (half[:1], 32, "missed", None),
            (half[:2], 42, "open", 31 + 24),
            (half[:2], 56, "missed", None),
            (half, 62, "closing", 41 + 24),
        ]
        for keyed, hour, status, closes in table:
            with self.subTest(hour):
                found = self.at([coat(0, 1), *keyed], hour)
                self.assertEqual(found.headline, status)
                if closes:
                    self.assertAlmostEqual(found.lead.closes_s / H, closes)

    def test_keying_early_does_not_shorten_a_window(self):
        """Keyed at 1.5 h: it still opens at 3 h; 24 h after keying is 25.5 h, later than the sheet's 24."""
        events = [coat(0, 1), Keyed(1.4 * H, 1.5 * H, entry=2)]
        self.assertEqual(self.at(events, 2).headline, "waiting")
        self.assertAlmostEqual(self.at(events, 4).lead.closes_s / H, 25.5, places=5)

    def test_part_coats_join_into_one_layer_with_the_earliest_begin_and_latest_end(self):
        events = [coat(0, 1, 0.4, entry=1), coat(2, 3, 0.6, entry=2)]
        surface = self.at(events, 3.5)
        self.assertEqual(len(surface.layers), 1)
        self.assertEqual((surface.top.share, surface.top.entries), (1.0, (1, 2)))
        self.assertEqual((surface.top.began_s, surface.top.ended_s), (0, 3 * H))
        self.assertAlmostEqual(surface.clock("recoat").opens_s / H, 5.0, places=5)
        self.assertAlmostEqual(surface.clock("recoat").closes_s / H, 24.0, places=5)
        self.assertEqual(len(self.at([coat(0, 1), coat(5, 6, entry=2)], 7).layers), 2)

    def test_bare_runs_from_the_start_of_baring_and_overdue_stays_bare(self):
        """Steel at 60 % and 20 °C (spread 8 K): 6 h."""
        surface = self.at([Bared(1 * H, 3 * H)], 4, rh=60.0)
        self.assertEqual(surface.headline, "bare")
        self.assertAlmostEqual(surface.lead.closes_s / H, 7.0, places=3)
        self.assertEqual(self.at([Bared(1 * H, 3 * H)], 12, rh=60.0).headline, "bare")
        self.assertEqual(self.at([Bared(1 * H, 3 * H), coat(4, 5, entry=2)], 5.5, rh=60.0).clock("bare"), None)

    def test_a_part_coat_goes_on_the_oldest_portion_first(self):
        events = [Bared(0, H, 0.5, entry=1), Bared(5 * H, 6 * H, 0.5, entry=2), coat(6, 7, 0.5, entry=3)]
        self.assertEqual(self.at(events, 7.5).bare, ((5 * H, 0.5),))
        self.assertEqual(self.at([*events, coat(8, 9, 0.5, entry=4)], 9.5).bare, ())

    def test_substrates_without_a_bare_clock(self):
        for substrate in ("stainless", "laminate", "old film"):
            with self.subTest(substrate):
                self.assertIsNone(self.at([Bared(0, H)], 2, substrate=substrate).clock("bare"))

    def test_no_window_is_said_not_guessed(self):
        lonely = self.at([coat(0, 1)], 4, Toward("Other", "clear-coat"))
        self.assertEqual(lonely.headline, "unjudged")
        self.assertIn("names no window for Other", lonely.lead.note)
        self.assertIn("cannot say", self.at([coat(0, 1, sheet=None)], 4).lead.note)

    def test_a_window_that_closes_before_it_opens(self):
        document = copy.deepcopy(PRIMER)
        document["windows"][0]["closes"] = [[0, 200], [40, 90]]
        surface = self.at([coat(0, 1, sheet=sheets.read(document))], 1.2)
        self.assertEqual(surface.headline, "waiting")
        self.assertIn("closes before it opens", surface.lead.note)
        self.assertEqual(self.at([coat(0, 1, sheet=sheets.read(document))], 2.6).headline, "missed")

    def test_degreased_is_for_an_hour_and_used_up_by_a_coat(self):
        events = [Degreased(0, H)]
        self.assertEqual(self.at(events, 1.5).clock("degreased").status, "open")
        self.assertEqual(self.at(events, 2.1).clock("degreased").status, "missed")
        self.assertIsNone(self.at([*events, coat(1.2, 1.4, entry=2)], 1.5).clock("degreased"))

    def test_next_is_looked_up_as_self_then_product_then_kind_then_any(self):
        document = copy.deepcopy(PRIMER)
        rows = ["any", "kind:epoxy-primer", "product:Test primer", "self"]
        for n in range(4):
            document["windows"] = [{"next": row, "opens": [[20, 10 * (i + 1)]]} for i, row in enumerate(rows[: n + 1])]
            with self.subTest(rows[n]):
                self.assertEqual(sheets.read(document).window_for("Test primer", "epoxy-primer").next, rows[n])
        self.assertIsNone(SHEET.window_for("Other", "clear-coat"))

    def test_status_order_and_bounds(self):
        table = [((5, 10, 15, 20), "waiting"), ((10, 10, 15, 20), "open"), ((15, 10, 15, 20), "closing"), ((20, 10, 15, 20), "missed"), ((5, None, None, None), "waiting"), ((99, 10, None, None), "open")]  # fmt: skip
        for arguments, status in table:
            with self.subTest(arguments):
                self.assertEqual(status_of(*arguments), status)
                self.assertIn(status, set(Status))

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.floats(0, 35), min_size=4, max_size=10), st.floats(0.5, 8))
    def test_a_colder_log_never_opens_a_window_earlier_nor_closes_it_earlier(self, temps, colder):
        document = copy.deepcopy(PRIMER)
        table = [[10, 240], [20, 120], [30, 70]]
        document["windows"][0] |= {"opens": table, "closes": [[10, 2880], [20, 1440], [30, 840]]}
        sheet, ends = sheets.read(document), []
        for shift in (0.0, colder):
            t = np.arange(len(temps)) * 4 * H
            knots = np.append(t, 60 * 86400.0), np.append(temps, temps[-1]) - shift
            series = air.Air(knots[0], knots[1], knots[1] - 8, np.zeros(len(t), np.int8))
            surface = fold([coat(0, 1, sheet=sheet)], "steel", air.journey([(0, series, "x")]), 2 * H, SELF)
            never = math.inf
            ends.append([x if x is not None else never for x in (surface.lead.opens_s, surface.lead.closes_s)])
        self.assertGreaterEqual(ends[1][0], ends[0][0] - 0.01)
        self.assertGreaterEqual(ends[1][1], ends[0][1] - 0.01)

    def test_an_event_takes_effect_when_it_ended(self):
        surface = build([coat(0, 1), Keyed(2 * H, 3 * H, entry=2)], 2.5 * H)
        self.assertTrue(surface.in_work)
        self.assertIsNone(surface.keyed_s)


def bare_rate(substrate, temp, rh):
    """Rate of the bare clock where metal and air are equally warm."""
    return bare.bare_table(substrate).rates(temp, temp, dewpoint.dew_point_c(temp, rh))


class BareTests(SimpleTestCase):
    def test_hours_by_humidity(self):
        """24 h at 40 %, 6 at 60, 3 at 75; ln H linear between: √(24·6) at 50. Common practice, no source."""
        table = [(30, 24), (40, 24), (50, 12), (60, 6), (75, 3)]
        for rh, hours in table:
            with self.subTest(rh):
                self.assertAlmostEqual(1 / float(bare_rate("steel", 20, rh)) / 60, hours, places=6)
        self.assertAlmostEqual(1 / float(bare_rate("aluminium", 20, 60)) / 60, 4)
        self.assertAlmostEqual(1 / float(bare_rate("zinc", 20, 60)) / 60, 8)

    def test_by_hand_twice_and_salted_at_most_four_hours(self):
        """Twice 6 h at 60 %; near the dew point still one; with salt 4 h where it was more. Common practice, no source."""
        table = [
            (60, True, False, 12), (40, True, False, 48), (84, True, False, 1), (40, False, True, 4), (60, True, True, 4),
            (75, False, True, 3), (84, False, True, 1),
        ]  # fmt: skip
        for rh, by_hand, salted, hours in table:
            with self.subTest(rh=rh, by_hand=by_hand, salted=salted):
                law, at = bare.bare_table("steel", by_hand, salted), (20, 20, dewpoint.dew_point_c(20, rh))
                self.assertAlmostEqual(1 / float(law.rates(*at)) / 60, hours, places=6)
                self.assertAlmostEqual(1 / law.rate_one(*at) / 60, hours, places=6)
        wet = [round(bare.bare_table("steel", *of).wet_hours, 9) for of in ((True,), (False, True))]
        self.assertEqual(wet, [6, 3])
        self.assertIsNone(bare.bare_table("stainless", True, True))

    def test_humidity_counts_at_the_metal(self):
        """Air of 20 °C and 60 % has 14.0 hPa; metal of 15 °C holds 17.04 hPa (handbook): 82 %, e^0.3 h over 1 h."""
        dew = dewpoint.dew_point_c(20, 60)
        hours = 1 / bare.bare_table("steel").rate_one(15.0, 20.0, dew) / 60
        self.assertAlmostEqual(hours, math.exp(math.log(3) * (85 - 82.2) / 10), delta=0.03)

    def test_vapour_against_psychrolib(self):
        psychrolib.SetUnitSystem(psychrolib.SI)
        for temp in (0.5, 5, 10, 20, 30, 40):
            with self.subTest(temp):
                self.assertAlmostEqual(
                    float(dewpoint.vapour_hpa(temp)) / (psychrolib.GetSatVapPres(temp) / 100), 1, delta=0.004
                )
        for table in (bare.OPEN_FACE, bare.HOLDS_WATER):
            for at in ((20, 20, 9), (5, 20, 9), (20, 20, 19.9), (30, 20, -10)):
                self.assertAlmostEqual(table.rate_one(*at), float(table.rates(*at)), places=12)

    def test_an_hour_while_the_surface_is_under_3_k_above_the_dew_point(self):
        """20 °C at 84 % has a spread of 2.8 K; aluminium too falls to 1 h."""
        self.assertAlmostEqual(1 / float(bare_rate("aluminium", 20, 84)) / 60, 1)

    def test_scalars_and_arrays_agree(self):
        for substrate in ("steel", "zinc"):
            table = bare.bare_table(substrate)
            for rh in (5, 40, 47, 60, 71, 84, 86, 99):
                for temp in (-5, 12, 30):
                    with self.subTest(substrate, rh=rh, temp=temp):
                        at = (temp, temp, dewpoint.dew_point_c(temp, rh))
                        self.assertAlmostEqual(table.rate_one(*at), float(table.rates(*at)), places=12)
        for table in (tables.TimeTable(((10, 960), (20, 480), (30, 270)), role) for role in ("min", "max")):
            for temp in (-20, 4.9, 5, 12, 20, 33, 35, 60):
                with self.subTest(table.role, temp=temp):
                    self.assertAlmostEqual(table.rate_one(temp, 0, 0), float(table.rate_per_min(temp)), places=14)

    def test_humidity_that_changes_while_metal_waits(self):
        """Two hours at 60 % use 2/6; then 75 % (a step) needs the other 4/6 of 3 h: due after 4 h."""
        dry, wet = air.steady(20, 60, 0, 2 * H), air.steady(20, 75, 2 * H, 90 * H)
        series = air.Air(
            *(np.concatenate([getattr(a, n) for a in (dry, wet)]) for n in ("t_s", "air_c", "dew_c")),
            np.zeros(3, np.int8),
        )
        got = clock.crossing(air.journey([(0, series, "x")]), bare.bare_table("steel"), 0.0)
        self.assertAlmostEqual(got.t_s / H, 4.0, places=3)


class PlanTests(SimpleTestCase):
    STEPS = (
        PlanStep("s", "strip"),
        PlanStep("w", "degrease"),
        PlanStep("p", "prime", "Test primer", coats=2),
        PlanStep("b", "block", left_out="not needed"),
        PlanStep("c", "clear", "Clear"),
    )

    def next(self, events, hour):
        found = progress_of(self.STEPS, events, hour * H)
        return found.next.step.id if found.next else None, found

    def test_the_first_undone_step(self):
        events = [Bared(0, H, step="s", entry=1), Degreased(1.1 * H, 1.2 * H, step="w", entry=2), coat(1.5, 2, entry=3), coat(5, 6, entry=4), Coated(7 * H, 8 * H, step="c", entry=5)]  # fmt: skip
        for count, hour, expected in (
            (0, 0.5, "s"),
            (1, 1.05, "w"),
            (2, 1.3, "p"),
            (3, 3, "p"),
            (4, 6.5, "c"),
            (5, 9, None),
        ):
            with self.subTest(count):
                self.assertEqual(self.next(events[:count], hour)[0], expected)
        self.assertEqual(self.next(events[:3], 3)[1].next.coats_done, 1)
        self.assertEqual(self.next(events, 9)[1].stage, "Record")

    def test_what_is_passed_over_and_which_act_comes_next(self):
        """Abrading left undone before a primer that is on, another layer still to come; an act that is done is none to come."""
        steps = (PlanStep("k", "abrade"), PlanStep("p", "prime", "Test primer"), PlanStep("g", "block"), PlanStep("x", "close"), PlanStep("c", "clear", "Clear"))  # fmt: skip
        found = progress_of(steps, [coat(0, 1, step="p")], 2 * H)
        self.assertEqual([found.is_passed_over(i) for i in range(5)], [True, False, False, False, False])
        self.assertEqual((found.next.step.id, found.next_act), ("g", "close"))
        closed = progress_of(steps, [coat(0, 1, step="p"), Access(H, H, step="x", entry=9, how="closed")], 2 * H)
        self.assertEqual((closed.next.step.id, closed.next_act), ("g", ""))

    def test_degreasing_lapses_unless_its_layer_has_begun(self):
        events = [Bared(0, H, step="s", entry=1), Degreased(1.1 * H, 1.2 * H, step="w", entry=2)]
        key, found = self.next(events, 2.3)
        self.assertEqual((key, found.next.lapsed), ("w", True))
        self.assertEqual(self.next([*events, coat(1.5, 2, entry=3)], 2.3)[0], "p")

    def test_baring_by_portions(self):
        events = [Bared(0, H, 0.6, "s", 1)]
        self.assertEqual(self.next(events, 2)[0], "s")
        self.assertEqual(self.next([*events, Bared(H, 2 * H, 0.4, "s", 2)], 2)[0], "w")

    def test_stages(self):
        kinds = ["strip", "abrade", "degrease", "prime", "block", "surface", "trial-fit", "clear", "inspect"]
        expected = ["Strip", "Metal", "Metal", "Prime", "Surface", "Surface", "Colour", "Colour", "Colour"]
        self.assertEqual([stage_of(kinds, i) for i in range(len(kinds))], expected)
        self.assertEqual(stage_of(kinds, None), "Record")
        self.assertEqual(stage_of(["trial-fit", "prime"], 0), "Strip")

    def test_the_published_table_is_whole(self):
        for name, kind in STEPS.items():
            with self.subTest(name):
                self.assertTrue(kind.stage is None or kind.stage in STAGES)
                self.assertIn(kind.entry, Kind.values)
                self.assertEqual(kind.leaves_film and kind.entry == "coat", kind.entry == "coat")


class SheetTests(SimpleTestCase):
    def broken(self, path, value):
        document = copy.deepcopy(PRIMER)
        target = document
        for key in path[:-1]:
            target = target[key]
        if value is None:
            del target[path[-1]]
        else:
            target[path[-1]] = value
        return sheets.problems_of(document)

    def test_each_fault_names_its_field(self):
        table = [
            (("kind",), "magic", "kind"),
            (("components", 0, "solids_pct"), 0, "components/base/solids_pct"),
            (("components", 0, "solids_pct"), 140, "components/0/solids_pct"),
            (("variants", 0, "parts"), {"base": 4, "hardener": 0}, "variants/0/parts/hardener"),
            (("variants", 0, "parts"), {"base": 4, "nothing": 1}, "variants/0/parts/nothing"),
            (("variants", 1, "temp_c"), [30, 15], "variants/1/temp_c"),
            (("film", "min_um"), 70, "film"),
            (("times", "flash"), [[20, 10], [10, 20]], "times/flash"),
            (("times", "flash"), [[20, 0]], "times/flash"),
            (("windows", 0, "next"), "whatever", "windows/0/next"),
            (("times", "flash"), [[10, 20], [20, 30]], "times/flash"),
            (("pot_life",), {"rh": [[40, [[10, 60], [20, 60]]], [80, [[10, 60], [20, 61]]]]}, "pot_life"),
            (("times", "flash"), {"rh": [[40, [[10, 60], [20, 40]]], [80, [[15, 60], [20, 50]]]]}, "times/flash"),
            (("windows", 0, "closes"), [[0, 30], [40, 30]], "windows/0/closes"),
            (("windows", 0, "again"), [{"opens": [[0, 60], [40, 60]]}], "windows/0/again/0/opens"),
            (("windows",), [{"next": "any", "opens": [[0, 60]], "again": [{"opens": [[0, 90]]}]}], "windows/0/again/0"),
            (("thinner", "component"), "water", "thinner/component"),
            (("extra",), 1, "document"),
        ]
        for path, value, field in table:
            with self.subTest(field, value=value):
                found = self.broken(path, value)
                self.assertEqual([f for f, _ in found], [field])
                self.assertTrue(found[0][1])
        with self.assertRaises(sheets.SheetError) as caught:
            sheets.read({"format": "emplastra-sheet/1"})
        self.assertIn("is missing product", str(caught.exception))

    def test_solids_and_shares_of_a_mix_are_by_volume(self):
        """4 : 1 by mass at 1.5 and 1.0 g/mL is 2.667 : 1 by volume."""
        document = copy.deepcopy(PRIMER)
        document["variants"][1]["by"] = "mass"
        document["components"][1]["solids_pct"] = 20
        sheet = sheets.read(document)
        shares = sheet.volume_shares(sheet.variant("mild"))
        self.assertAlmostEqual(shares["base"], (4 / 1.5) / (4 / 1.5 + 1))
        self.assertAlmostEqual(sheet.solids_pct(sheet.variant("mild")).value, (4 / 1.5 * 50 + 20) / (4 / 1.5 + 1))
        can = sheets.read(CAN)
        self.assertEqual(can.solids_pct(None).value, 10)


class CoatRuleTests(SimpleTestCase):
    """A coat over a first one that ended at 1 h: its window, its pot, its words; gravities stand in the cases."""

    def said(self, began, ended, **more):
        return coat_said(SHEET, [coat(0, 1)], began * H, ended * H, where(), **more)

    def test_what_is_less_than_a_minute_apart_is_told_as_the_same_minute(self):
        """Opens at 3 h, closes at 24; induction over at 5 h, dead at 8."""
        pot, minute = PotTimes(5 * H, 8 * H), 1 / 60
        table = [("induction", 5 - minute / 2, 6, False), ("induction", 5 - minute, 6, True), ("dead-pot", 6, 8 + minute / 2, False), ("dead-pot", 6, 8 + minute, True), ("early", 3 - minute / 2, 6, False), ("early", 3 - minute, 6, True), ("late", 6, 24 + minute / 2, False), ("late", 6, 24 + minute, True)]  # fmt: skip
        for rule, began, ended, speaks in table:
            with self.subTest(rule, began=began, ended=ended):
                self.assertEqual(rule in self.said(began, ended, pot=pot, mixed=True), speaks)

    def test_an_acceptance_holds_while_it_is_no_worse(self):
        """90 min early holds for 80 and for 100, not for 120; an hour late for two at most."""
        early = [self.said(3 - minutes / 60, 6)["early"].read for minutes in (90, 80, 100, 120)]
        self.assertEqual([holds(early[0], other) for other in early], [True, True, True, False])
        late = [self.said(20, 24 + hours)["late"] for hours in (1, 2, 3)]
        self.assertEqual([holds(late[0].read, other.read) for other in late], [True, True, False])
        self.assertEqual(
            late[1].sentence, "The window of the film under it has been closed for 2 h: key with P240 first."
        )


class PlanRowTests(SimpleTestCase):
    def test_section_follows_the_air(self):
        """A substrate the lag does not know is refused with those it does."""
        with self.assertRaisesMessage(ValueError, "steel"):
            lag.lag_s("wood", 3)
        for arguments in (("steel", 0), ("steel", 3, 3), ("steel", 3, 1, 0)):
            with self.subTest(arguments), self.assertRaises(ValueError):
                lag.lag_s(*arguments)
