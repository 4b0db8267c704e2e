"""Every clock of a surface, with constant tables so that each expected hour is plain arithmetic."""

import copy
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from emplastra.core.air import journey as air
from emplastra.core.air import series
from emplastra.core.product import sheet as sheets
from emplastra.core.product.tables import TimeTable
from emplastra.core.surface.bare import drying_of
from emplastra.core.surface.clocks import Setting, fold, with_clocks
from emplastra.core.surface.events import (
    Access,
    Away,
    Back,
    Bared,
    Checked,
    Degreased,
    Done,
    Dried,
    FilmLost,
    Keyed,
    Prepped,
    Rinsed,
    Wetted,
)
from emplastra.core.surface.fold import Clock, Toward, build
from emplastra.core.surface.missed import remedy
from emplastra.core.surface.plan import PlanStep, progress_of
from emplastra.core.working import Basis
from tests.base import PRIMER
from tests.core.test_surface import SELF, SHEET, H, coat, where
from tests.rulings import coat_said
from tests.surfaces import clocks_of

M = 60.0
PREP = sheets.read(
    {
        "format": "emplastra-sheet/1", "product": "Prep", "kind": "acid-prep", "form": "ready", "source": "this test", "date": "2026-01-01",
        "components": [{"key": "p", "name": "Prep", "role": "ready", "density_g_ml": 1.1}],
        "times": {"contact": {"minutes": 30, "at_c": 20, "theta_k": 0, "range_c": [0, 40]}},
    }
)  # fmt: skip


def at(events, t_s, toward=SELF, substrate="steel", spots=(), **air_of):
    """The surface at a moment [s]."""
    return fold(events, substrate, where(**air_of), t_s, toward, 0.0, spots)


class PrepTests(SimpleTestCase):
    """Prep on from 0 to 4 min; 30 min of wet; prompts every 10 min, dried after 15."""

    ON = (Bared(-2 * H, -H), Prepped(0.0, 4 * M, 1.0, "a", 1, "Prep", PREP))

    def wetted(self, *minutes):
        return (*self.ON, *(Wetted(m * M, m * M, 1.0, "", 10 + m) for m in minutes))

    def test_kept_wet_the_time_runs_from_the_begin(self):
        events = self.wetted(9, 14, 19, 24, 29)
        surface = at(events, 12 * M)
        wet = surface.clock("keep-wet")
        self.assertEqual((surface.headline, wet.closes_s / M, wet.opens_s / M), ("keep-wet", 19.0, 30.0))
        self.assertAlmostEqual(wet.progress, 12 / 30)
        self.assertIsNone(surface.clock("bare"))
        self.assertAlmostEqual(at(events, 31 * M).clock("keep-wet").progress, 1.0)

    def test_let_dry_it_starts_anew_with_the_next_wetting(self):
        """Last wet at 9 min, dry from 24 on; wetted again at 30: over at 60, not at 30. Prompts of 5 min: dry at 16.5."""
        dried = at(self.wetted(9), 25 * M).clock("keep-wet")
        self.assertEqual((dried.progress, dried.note), (0.0, "it may have dried: wet it again, its time starts anew"))
        again = at(self.wetted(9, 30, 35), 36 * M).clock("keep-wet")
        self.assertEqual((again.since_s / M, again.opens_s / M, again.note), (30.0, 60.0, ""))
        self.assertAlmostEqual(again.progress, 6 / 30)
        kept = at(self.wetted(9, 23), 25 * M).clock("keep-wet")  # 14 min: within a prompt and a half
        self.assertEqual(kept.since_s, 0.0)
        for minute, progress in ((16, 16 / 30), (17, 0.0)):
            often = with_clocks(build(self.wetted(9), minute * M), Setting("steel", where(), SELF, prompt_s=300.0))
            self.assertEqual((often.clock("keep-wet").closes_s / M, round(often.clock("keep-wet").progress, 6)), (14, round(progress, 6)))  # fmt: skip

    def test_acid_that_dried_in_places_has_not_worked(self):
        for wet in (True, False):
            surface = at((*self.ON, Rinsed(30 * M, 32 * M, 1.0, "r", 3, wet)), 40 * M)
            self.assertEqual((surface.prepped, surface.bare), (wet, ((32 * M, 1.0),)))

    def test_rinse_then_dry_then_bare_anew(self):
        """Dry 45 min later at a deficit of 11 hPa or more; that wet time is 1/4 of the 3 h at 75 %; then 6 h at 60 %.

        At 20 °C and 60 % the deficit is 0.4 x 23.33 hPa: it takes 45 x 11 / 9.33 = 53 min.
        """
        events = (*self.ON, Rinsed(30 * M, 32 * M, 1.0, "r", 3))
        drying = at(events, 40 * M, rh=60.0)
        self.assertEqual((drying.headline, drying.clock("bare")), ("waiting", None))
        wet = 45 * 11 / (0.4 * 23.33)
        self.assertAlmostEqual(drying.clock("dry-off").opens_s / M, 32 + wet, delta=0.1)
        dry = at(events, 90 * M, rh=60.0)
        self.assertEqual((dry.headline, dry.clock("dry-off")), ("bare", None))
        self.assertAlmostEqual(dry.clock("bare").closes_s / H, (32 + wet) / 60 + 6 * (1 - wet / 180), places=2)
        quick = at(events, 40 * M, rh=50.0).clock("dry-off")
        self.assertAlmostEqual(quick.opens_s / M, 32 + 45, places=6)

    def test_cold_metal_dries_and_is_due_too(self):
        """At 5 °C and 60 % the deficit is 0.4 x 8.72 hPa (handbook): 142 min; at 97 % 45 x 11 / (0.03 x 23.37)."""
        events = (*self.ON, Rinsed(30 * M, 32 * M, 1.0, "r", 3))
        cold = at(events, 33 * M, temp=5.0, rh=60.0).clock("dry-off")
        self.assertAlmostEqual(cold.opens_s / M, 32 + 45 * 11 / (0.4 * 8.72), delta=2)
        self.assertIsNotNone(at(events, 4 * H, temp=5.0, rh=60.0).clock("bare").closes_s)
        damp = at(events, 33 * M, rh=97.0).clock("dry-off")
        self.assertAlmostEqual(damp.opens_s / M, 32 + 45 * 11 / (0.03 * 23.37), delta=8)

    def test_wet_metal_rusts_and_past_its_time_leads_while_it_is_wet(self):
        """At 97 % it is wet for 11.8 h, and wet metal has 3 h."""
        events = (*self.ON, Rinsed(30 * M, 32 * M, 1.0, "r", 3))
        self.assertEqual(at(events, 3 * H, rh=97.0).headline, "waiting")
        wet = at(events, 4 * H, rh=97.0)
        self.assertEqual(wet.headline, "bare")
        self.assertAlmostEqual(wet.lead.closes_s / M, 32 + 180, places=3)

    def test_dried_by_hand_it_is_dry(self):
        """Blown off 10 min after the rinse: 10 of 180 min are used up, the rest by the air: 6 h at 60 %."""
        rinsed = (*self.ON, Rinsed(30 * M, 32 * M, 1.0, "r", 3))
        surface = at((*rinsed, Dried(40 * M, 42 * M, 1.0, "d", 4)), 45 * M, rh=60.0)
        self.assertEqual((surface.headline, surface.clock("dry-off")), ("bare", None))
        self.assertAlmostEqual(surface.clock("bare").closes_s / H, 42 / 60 + 6 * (1 - 10 / 180), places=3)
        half = at((*rinsed, Dried(40 * M, 42 * M, 0.5, "d", 4)), 45 * M, rh=60.0)
        self.assertEqual(half.clock("bare").closes_s, surface.clock("bare").closes_s)
        self.assertEqual([p.dried_s for p in half.patches].count(None), 1)

    def test_paper_that_gets_wet_holds_it_back_and_boxes_hold_water_longest(self):
        events = (*self.ON, Rinsed(30 * M, 32 * M, 1.0, "r", 3), Checked(80 * M, 80 * M, 1.0, "", 4, "paper", False))
        self.assertEqual(at(events, 81 * M).clock("dry-off").status, "waiting")
        box = with_clocks(build(events[:-1], 40 * M), Setting("steel", where(), SELF, 0.0, drying_of("box")))
        self.assertAlmostEqual(box.clock("dry-off").opens_s / M, 32 + 4 * 45, places=6)

    def test_no_contact_time_is_said(self):
        events = (Bared(-H, -H / 2), Prepped(0.0, M, 1.0, "", 1, "Other prep", None))
        self.assertIn("Other prep names no contact time", at(events, 2 * M).clock("keep-wet").note)
        self.assertEqual(build((Wetted(0, 0),), 1.0).treatment, None)


class MetalTests(SimpleTestCase):
    def test_the_portion_that_runs_out_first_leads(self):
        """Half bared at 0, half at 5 h, 6 h each at 60 %: due at 6; abrading the older half moves it to 11."""
        events = (Bared(0, H, 0.5, "", 1), Bared(5 * H, 5.5 * H, 0.5, "", 2))
        self.assertAlmostEqual(at(events, 5.6 * H, rh=60.0).clock("bare").closes_s / H, 6, places=3)
        again = (*events, Keyed(5.6 * H, 6 * H, 0.5, "", 3))
        self.assertEqual(at(again, 6.5 * H, rh=60.0).bare, ((5 * H, 0.5), (5.6 * H, 0.5)))
        self.assertAlmostEqual(at(again, 6.5 * H, rh=60.0).clock("bare").closes_s / H, 11, places=3)

    def test_salt_hand_and_cloth_move_the_hour(self):
        """Bared from 0 at 60 %: 6 h; by hand 12; a clean cloth adds half of that, but where salt was: 4 h."""
        bared, clean = Bared(0, H, 1, "s", 1), Checked(2 * H, 2 * H, 1, "", 3, "cloth", True)
        marked, none = replace(clean, passed=False), Checked(3 * H, 3 * H, 1, "", 4, "no-flash-rust", True)
        keyed = Keyed(H, 2 * H, 1, "", 2, "P120", 0.0, True)
        table = [
            ("as bared", [bared], False, 6, ""),
            ("bared by hand", [replace(bared, by_hand=True)], False, 12, ""),
            ("keyed by hand", [bared, keyed], False, 13, ""),
            ("keyed by machine after the hand", [replace(bared, by_hand=True), replace(keyed, by_hand=False)], False, 7, ""),
            ("cloth clean", [bared, clean], False, 9, "a white cloth stays clean"),
            ("cloth before it was keyed", [bared, clean, replace(keyed, began_s=3 * H, ended_s=4 * H)], False, 15, ""),
            ("cloth clean, by hand", [replace(bared, by_hand=True), clean], False, 18, "a white cloth stays clean"),
            ("salted", [bared], True, 4, ""),
            ("salted, cloth clean", [bared, clean], True, 4, "a white cloth stays clean, abrade lightly and wipe all the same"),
            ("cloth marked", [bared, marked, none], False, 2, "it marks a white cloth: wipe it until it does not, or abrade again"),
        ]  # fmt: skip
        for name, events, salted, hour, remark in table:
            with self.subTest(name):
                setting = Setting("steel", where(rh=60.0), SELF, salted=salted)
                bare = with_clocks(build(events, 5 * H), setting).clock("bare")
                self.assertAlmostEqual(bare.closes_s / H, hour, places=3)
                self.assertEqual(bare.remark, remark)
        half = with_clocks(build([bared, clean], 4.5 * H), Setting("steel", where(rh=60.0), SELF)).clock("bare")
        self.assertAlmostEqual(half.progress, 0.5, places=4)
        late = with_clocks(build([bared], 8 * H), Setting("steel", where(rh=60.0), SELF)).clock("bare")
        self.assertEqual(late.progress, 1.0)

    def test_what_takes_rust_owes_no_hour(self):
        for kind, runs in (
            ("converter", False),
            ("epoxy-mastic", False),
            ("encapsulator", False),
            ("epoxy-primer", True),
        ):
            with self.subTest(kind):
                self.assertEqual(at([Bared(0, H)], 2 * H, Toward("x", kind)).clock("bare") is not None, runs)

    def test_weld_takes_film_off_and_starts_a_bare_clock_there(self):
        events = (coat(0, 1), FilmLost(2 * H, 2.5 * H, 0.05, "w", 2, "weld"))
        surface = at(events, 3 * H, rh=60.0)
        self.assertEqual((surface.headline, surface.lost[0][:2]), ("bare", ("weld", 0.05)))
        self.assertAlmostEqual(surface.top.share, 0.95)
        self.assertAlmostEqual(surface.clock("bare").closes_s / H, 8, places=3)
        mended = at((*events, coat(4, 5, 0.05, entry=3)), 5.5 * H, rh=60.0)
        self.assertEqual((mended.clock("bare"), mended.top.share, len(mended.layers)), (None, 1.0, 1))
        self.assertEqual(at((Bared(0, H), FilmLost(2 * H, 3 * H, 0.1)), 4 * H).lost, ())

    def test_checks_stand_beside_and_the_careful_one_leads(self):
        """Coat 0 to 1 h: opens at 3 h. Bare from 0 at 60 %: due at 6 h."""
        bare = (Bared(0, H),)
        table = [
            ((coat(0, 1), Checked(2 * H, 2 * H, 1, "", 2, "tack", True)), 2.5, "waiting", "no tack already, but the sheet’s time leads"),
            ((coat(0, 1), Checked(4 * H, 4 * H, 1, "", 2, "tack", False)), 4.5, "waiting", "still tacky, though the time is up: wait and check again"),
            ((coat(0, 1), Checked(4 * H, 4 * H, 1, "", 2, "tack", False), Checked(5 * H, 5 * H, 1, "", 3, "tack", True)), 5.5, "open", "no tack"),
            ((*bare, Checked(7 * H, 7 * H, 1, "", 2, "no-flash-rust", True)), 7.5, "bare", "no flash rust, abrade lightly and wipe all the same"),
            ((*bare, Checked(2 * H, 2 * H, 1, "", 2, "no-flash-rust", False)), 2.5, "bare", "flash rust seen: abrade again"),
            ((coat(0, 1), Checked(4 * H, 4 * H, 1, "", 2, "lights-off", False)), 4.5, "open", ""),
        ]  # fmt: skip
        for events, hour, status, remark in table:
            with self.subTest(remark or "lights-off"):
                surface = at(events, hour * H, rh=60.0)
                self.assertEqual((surface.headline, surface.lead.remark), (status, remark))
        seen = at((*bare, Checked(2 * H, 2 * H, 1, "", 2, "no-flash-rust", False)), 2.5 * H, rh=60.0)
        self.assertEqual(seen.clock("bare").closes_s / H, 2)

    def test_what_was_seen_or_wiped_before_does_not_count_after(self):
        """A cloth on the coat says nothing of the strip that is burnt later: 6 h from 2 h; a coat or a strip ends all."""
        cloth = Checked(1.5 * H, 1.5 * H, 1, "", 2, "cloth", True)
        burnt = at([coat(0, 1), cloth, FilmLost(2 * H, 2.5 * H, 0.05, "w", 3, "weld")], 3 * H, rh=60.0).clock("bare")
        self.assertEqual((round(burnt.closes_s / H, 3), burnt.remark), (8.0, ""))
        self.assertEqual(build([Bared(0, H, 1, "", 1), replace(cloth, entry=2), coat(2, 3, entry=3)], 4 * H).checks, ())
        wiped = build([coat(0, 1), Degreased(2 * H, 2.1 * H, 1, "", 2), Bared(3 * H, 4 * H, 1, "", 3)], 5 * H)
        self.assertIsNone(wiped.degreased_s)

    def test_away_and_closed_suspend_and_give_back(self):
        events = [coat(0, 1), Away(4 * H, 4 * H, 1, "", 2)]
        self.assertEqual((at(events, 30 * H).headline, at(events, 30 * H).lead), ("resting", None))
        self.assertEqual(at([*events, Back(40 * H, 40 * H, 1, "", 3)], 41 * H).headline, "missed")
        shut = [coat(0, 1), Access(5 * H, 5 * H, 1, "", 2, "closed")]
        self.assertEqual(at(shut, 30 * H).headline, "resting")
        self.assertEqual(at([*shut, Access(31 * H, 31 * H, 1, "", 3, "opened")], 32 * H).headline, "missed")
        fitted = build([Access(0, H, 1, "", 1, "trial-fit")], 2 * H)
        self.assertEqual(fitted.trial_fit_s, H)
        self.assertIsNone(
            build([Access(0, H, 1, "", 1, "trial-fit"), Access(2 * H, 3 * H, 1, "", 2, "taken-off")], 4 * H).trial_fit_s
        )

    def test_the_worst_spot_governs(self):
        open_zone = [coat(0, 1)]
        spots = [at([Bared(3 * H, 3.2 * H)], 4 * H, rh=60.0), at([coat(-40, -39)], 4 * H)]
        surface = at(open_zone, 4 * H, spots=spots)
        self.assertEqual((surface.own_lead.status, surface.headline, surface.governing), ("open", "missed", 1))
        self.assertEqual(at(open_zone, 4 * H, spots=spots[:1]).governing, 0)  # bare leads over open
        waits = at([coat(3, 3.9)], 4 * H)
        self.assertEqual(at(open_zone, 4 * H, spots=[waits, spots[1]]).governing, 1)
        self.assertEqual(at(open_zone, 4 * H, spots=[waits, waits]).governing, None)
        self.assertEqual(at(open_zone, 4 * H, spots=[at([coat(3, 3.9)], 4 * H)]).governing, None)


class ActTests(SimpleTestCase):
    def sheet(self):
        document = copy.deepcopy(PRIMER)
        document["windows"] += [{"next": "act:weld", "opens": [[0, 240], [40, 240]], "closes": [[0, 600], [40, 600]]}]
        return sheets.read(document)

    def test_an_act_has_its_own_row_or_none(self):
        events = [coat(0, 1, sheet=self.sheet())]
        weld = at(events, 2 * H, Toward("Test primer", "epoxy-primer", "weld"))
        self.assertEqual(
            (weld.headline, round(weld.lead.opens_s / H, 6), weld.lead.closes_s / H), ("waiting", 5.0, 10.0)
        )
        mask = at(events, 2 * H, Toward("Test primer", "epoxy-primer", "mask"))
        self.assertEqual(mask.headline, "unjudged")
        self.assertIn("names no window for masking", mask.lead.note)
        kinds = [clock.kind for clock in clocks_of(at(events, 2 * H))]
        self.assertEqual(kinds, ["recoat", "act", "flash", "cure"])

    def test_what_comes_next_in_the_plan_is_asked_of_the_sheet(self):
        steps = (PlanStep("p", "prime", "Test primer"), PlanStep("m", "mask"), PlanStep("b", "prime", "Test primer"))
        done = progress_of(steps, [coat(0, 1)], 2 * H)
        self.assertEqual(done.toward({"Test primer": "epoxy-primer"}), Toward("Test primer", "epoxy-primer", "mask"))
        masked = progress_of(steps, [coat(0, 1), Done(2 * H, 3 * H, 1, "m", 2)], 4 * H)
        self.assertEqual(masked.toward({}).act, "")
        away = (PlanStep("c", "contractor"),)
        self.assertFalse(progress_of(away, [Away(0, 0, 1, "c", 1)], H).states[0].done)
        self.assertTrue(progress_of(away, [Away(0, 0, 1, "c", 1), Back(H, H, 1, "c", 2)], 2 * H).states[0].done)
        steps = (PlanStep("s", "strip"), PlanStep("i", "inspect"), *away, PlanStep("p", "prime", "Test primer"))
        for came, comes in (("as-sent", "s"), ("bare", "i"), ("temporary", "i"), ("coated", "i")):
            with self.subTest("who bared or coated it has stripped it", came=came):
                self.assertEqual(progress_of(steps, [Away(0, 0, 1, "c", 1), Back(H, H, 1, "c", 2, came=came)], 2 * H).next.step.id, comes)  # fmt: skip

    def test_used_up_wipe_and_wet_on_wet(self):
        document = copy.deepcopy(PRIMER)
        document["windows"][0]["wet_on_wet"] = True
        surface = at([coat(0, 1, sheet=sheets.read(document)), Degreased(4 * H, 4.1 * H, 1, "", 2)], 4.5 * H)
        self.assertTrue(surface.window.wet_on_wet)
        self.assertAlmostEqual(surface.clock("degreased").closes_s / H, 5.1)


class StretchTests(SimpleTestCase):
    """A coat of 0 to 1 h: open from 2 to 4 h, shut until 25, open again until 49 by the begin; P320 after that."""

    def sheet(self, last=2940, longer=1):
        row = {
            "next": "self",
            "opens": [[0, 60], [40, 60]],
            "closes": [[0, 240], [40, 240]],
            "remedy": {"grit": "P320"},
        }
        row["again"] = [{"opens": [[0, 1440], [40, 1440]], "closes": last and [[0, last], [40, last]]}]
        return sheets.read(copy.deepcopy(PRIMER) | {"windows": [row]})

    def test_both_stretches_hold_and_the_middle_is_shut(self):
        table = [
            (1.5, "waiting", 2, 4, 25, None), (3, "open", 2, 4, 25, None), (4, "waiting", 25, 49, None, (4, 25)),
            (24.9, "waiting", 25, 49, None, (4, 25)), (25, "open", 25, 49, None, None), (50, "missed", 25, 49, None, None),
        ]  # fmt: skip
        for hour, status, opens, closes, again, shut in table:
            with self.subTest(hour):
                clock = at([coat(0, 1, sheet=self.sheet())], hour * H).window
                told = [t if t is None else round(t / H, 6) for t in (clock.opens_s, clock.closes_s, clock.again_s)]
                self.assertEqual((clock.status, *told), (status, opens, closes, again))
                self.assertEqual(clock.shut and tuple(round(t / H, 6) for t in clock.shut), shut)
        never = at([coat(0, 1, sheet=self.sheet(None))], 50 * H).window
        self.assertEqual((never.status, never.closes_s), ("open", None))

    def test_a_middle_is_shut_from_its_close_until_it_opens(self):
        for at_s, shut in ((3.9, None), (4, (4, 25)), (24.9, (4, 25)), (25, None)):
            clock = Clock("recoat", "x", "waiting", 0.0, closes_s=4, at_s=at_s, stretches=((2, 4), (25, 49)))
            self.assertEqual((clock.shut, clock.again_s), (shut, 25))
        never = Clock("recoat", "x", "waiting", 0.0, closes_s=4, at_s=9, stretches=((2, 4), (None, None)))
        self.assertEqual((never.shut, never.again_s), ((4, None), None))

    def test_a_coat_into_the_middle_is_early_for_the_second_and_late_for_the_first(self):
        sheet = self.sheet()
        for began, ended, rules in (
            (3, 3.5, []),
            (3.5, 4.5, ["late"]),
            (10, 11, ["early"]),
            (26, 27, []),
            (50, 51, ["late"]),
        ):
            with self.subTest(began):
                said = coat_said(sheet, [coat(0, 1, sheet=sheet)], began * H, ended * H, where())
                self.assertEqual(list(said), rules)

    def test_keyed_in_the_middle_it_stays_shut(self):
        keyed = at([coat(0, 1, sheet=self.sheet()), Keyed(5 * H, 6 * H, 1, "", 2)], 10 * H).window
        self.assertEqual((keyed.status, round(keyed.opens_s / H, 6)), ("waiting", 25))


class UnknownAirTests(SimpleTestCase):
    def test_no_window_only_within_one_way_of_taking_what_nobody_knows(self):
        """Opens after 4 h at 20 °C, closes after 6; 8 and 12 at 10 °C. Unknown from 1 h on between 10 and 20 °C: it may
        close (warm) before it opens (cold); a close of 3 h does so in either.
        """
        t = np.arange(25) * H - 23 * H
        known = series.from_readings(t, np.full(25, 10.0), np.full(25, 50.0), H, series.Assumption(20, 50))
        where_to = air.journey([(-99 * H, known, "shop")])
        for closes, note in (
            ([[10, 720], [20, 360]], "it may close before it opens"),
            ([[10, 360], [20, 180]], "it closes before it opens"),
        ):
            document = copy.deepcopy(PRIMER)
            document["windows"] = [{"next": "self", "opens": [[10, 480], [20, 240]], "closes": [[10, 720], [20, 360]]}]
            sheet = sheets.read(document)
            if closes[0][1] < 480:
                row = replace(sheet.windows[0], closes=TimeTable(tuple(map(tuple, closes)), "max"))
                sheet = replace(sheet, windows=(row,))
            clock = fold([coat(0, 1, sheet=sheet)], "steel", where_to, 1.5 * H, SELF).window
            with self.subTest(note):
                self.assertEqual(clock.status, "waiting")
                self.assertIn(note, clock.note)
                self.assertLess(clock.closes_s, clock.opens_s)


class RemedyTests(SimpleTestCase):
    def test_what_a_missed_window_costs(self):
        """2.5 m² at 12 and 2 min/m²; P240 takes 6 µm, P80 15 of the 50: under the sheet's 40. Common practice, no source."""
        top = build([coat(0, 1)], 2 * H).top
        table = [
            ("P240", "P240", True, 6.0, False),
            (None, "P240", False, 6.0, False),
            ("P80", "P80", True, 15.0, True),
        ]
        for grit, used, stated, off, thin in table:
            cost = remedy(top, 2.5, grit, 30 * H)
            with self.subTest(grit):
                self.assertEqual(
                    (cost.grit, cost.grit_is_stated, cost.um_off, cost.too_thin), (used, stated, off, thin)
                )
                self.assertEqual((cost.key_min, cost.wipe_min, cost.left_um), (30.0, 5.0, 50 - off))
                self.assertEqual((cost.open_s / H, cost.until_s / H), (30.5, 54.5))
        with self.assertRaises(ValueError):
            remedy(top, 0, "P80", 0)

    def test_air_that_rests_on_several_things_says_so_in_runs(self):
        shop = air.steady(20, 50, 0, 9 * H, Basis.MEASURED)
        yard = air.steady(5, 50, 0, 99 * H, Basis.ASSUMED)
        way = air.journey([(0, shop, "shop"), (4 * H, yard, "yard")])
        self.assertEqual(way.runs(H, 6 * H), [(H, 4 * H, Basis.MEASURED), (4 * H, 6 * H, Basis.ASSUMED)])
        self.assertEqual(SHEET.window_for("x", "y", "weld"), None)
        turned = air.Air(np.array([0, 4, 9]) * H, np.full(3, 20.0), np.full(3, 5.0), np.array([air.MEASURED, air.ASSUMED], np.int8))  # fmt: skip
        leaves = air.journey([(0, turned, "shop"), (4 * H, yard, "yard")])
        self.assertEqual(leaves.runs(0, 6 * H), [(0, 4 * H, Basis.MEASURED), (4 * H, 6 * H, Basis.ASSUMED)])
