"""The air of a coat: its worst over flash and drying, night and sun outdoors, thick films; constant and straight series."""

import copy
import math
from datetime import date, datetime
from zoneinfo import ZoneInfo

import numpy as np
import pandas
import psychrolib
import pvlib
from django.test import SimpleTestCase

from emplastra.core.air import journey as air
from emplastra.core.air import outlook, series
from emplastra.core.air.dewpoint import Limits, dew_point_c
from emplastra.core.air.sun import Outdoors, night_after
from emplastra.core.product import sheet as sheets
from emplastra.core.product.film import Film
from emplastra.core.rules.face import Act, Face, Tense
from emplastra.core.rules.judge import judge
from emplastra.core.surface.clocks import fold, longer_of, thicker
from emplastra.core.surface.events import Coated
from emplastra.core.surface.fit import Typed, fit_now, fit_of
from emplastra.core.surface.fold import Toward
from emplastra.core.words import written
from emplastra.core.working import Basis
from tests.base import PRIMER

H = 3600.0
VIENNA = (48.2, 16.4)


def sheet_of(kind="epoxy-primer", limits=None, **times):
    """The test primer of another kind, its times constant [min]."""
    document = copy.deepcopy(PRIMER) | {"kind": kind, "limits": limits or {}}
    document["times"] = {name: [[-20, minutes], [60, minutes]] for name, minutes in times.items()}
    return sheets.read(document)


def straight(*knots, basis=air.MEASURED, place="shop"):
    """A piece in air straight between (hour, °C, %)."""
    t, temps, rh = np.array(knots, float).T
    dews = np.array([dew_point_c(c, r) for c, r in zip(temps, rh, strict=True)])
    return air.journey([(0.0, air.Air(t * H, temps, dews, np.full(len(t) - 1, basis, np.int8)), place)])


def air_said(sheet, began_s, ended_s, fit):
    """{rule: sentence} of what the air says of a coat."""
    act = Act("prime", Tense.NOW, "z", product=sheet.product, sheet=sheet, began_s=began_s, ended_s=ended_s, fit=fit)
    return {v.rule: written(v.sentence) for v in judge(act, Face(began_s)).verdicts if v.aspect == "air"}


def told(gate):
    return [(b.what, b.side, round(b.value, 2), round(b.t_s / H, 2)) for b in gate.breaches]


class GateTests(SimpleTestCase):
    def test_the_worst_of_begin_to_the_end_of_flash_stops_and_to_hard_warns(self):
        """20 °C at 50 % until 1 h, then the dew point climbs to that of 90 % at 5 h; begun 0, ended 1 h; flash 60 min,
        touch 120, handle 180. RH at 2, 3 and 4 h from the dew points between, by PsychroLib.
        """
        psychrolib.SetUnitSystem(psychrolib.SI)
        where = straight((-9, 20, 50), (1, 20, 50), (5, 20, 90), (30, 20, 90))
        low, high = dew_point_c(20, 50), dew_point_c(20, 90)

        def rh_at(hour):
            return 100 * psychrolib.GetRelHumFromTDewPoint(20.0, low + (high - low) * (hour - 1) / 4)

        times = {"flash": 60, "touch": 120, "handle": 180}
        table = [
            ("epoxy-primer", 52, 2, 4), ("epoxy-primer", 60, 2, 4), ("epoxy-primer", 75, 2, 4), ("epoxy-primer", 95, 2, 4),
            ("1k-primer", 60, 2, 3), ("1k-primer", 52, 2, 3),
        ]  # fmt: skip
        for kind, most, flash, hard in table:
            with self.subTest(kind, most=most):
                sheet = sheet_of(kind, {"rh_pct": [None, most], "spread_k": 0}, **times)
                found = fit_of(sheet, where, 0.0, 20.0, 0.0, H, typed=Typed(25, 99))
                ends = round(found.flash_s / H, 9), round(found.hard_s / H, 9)
                self.assertEqual((*ends, found.basis), (flash, hard, Basis.MEASURED))
                for gate, hour in ((found.gate, flash), (found.later, hard)):
                    worst = rh_at(hour)
                    self.assertEqual(len(gate.breaches), int(worst > most))
                    if gate.breaches:
                        self.assertAlmostEqual(gate.breaches[0].value, worst, delta=0.3)
                        self.assertAlmostEqual(gate.breaches[0].t_s / H, hour, places=6)

    def test_cold_metal_is_judged_as_it_warms(self):
        """Metal of 5 °C, tau 1 h, in 20 °C: 3 K over a dew point of 9.27 °C after ln(15/7.73) h; worst at the begin."""
        where = straight((-9, 20, 50), (30, 20, 50))
        sheet = sheet_of(limits={"surface_c": [10, None]}, flash=30)
        found = fit_of(sheet, where, H, 5.0, 0.0, 0.5 * H)
        self.assertEqual(told(found.gate), [("spread", "low", round(5 - dew_point_c(20, 50), 2), 0.0), ("surface", "low", 5.0, 0.0)])  # fmt: skip
        late = fit_of(sheet, where, H, 20 - 15 * math.exp(-1), H, 1.5 * H)
        self.assertEqual(told(late.gate), [])
        self.assertEqual(told(fit_now(Limits(), where, H, 5.0, 0.0).gate), told(found.gate)[:1])

    def test_typed_air_stands_for_an_hour_where_nothing_was_measured(self):
        """Assumed 18 °C, 55 %; typed 9 °C, 95 %: cold and damp for an hour, then as assumed. A typed surface begins."""
        where = straight((-9, 18, 55), (30, 18, 55), basis=air.ASSUMED)
        sheet = sheet_of(limits={"air_c": [10, None], "rh_pct": [None, 85], "spread_k": 0}, flash=30, handle=300)
        found = fit_of(sheet, where, 0.0, 18.0, 0.0, 0.5 * H, typed=Typed(9.0, 95.0))
        self.assertEqual(told(found.gate), [("humidity", "high", 95.0, 0.0), ("air", "low", 9.0, 0.0)])
        self.assertEqual(found.basis, Basis.MEASURED)
        after = fit_of(sheet, where, 0.0, 18.0, 0.0, 1.5 * H, typed=Typed(9.0, 95.0))
        self.assertEqual(told(after.later), [])
        self.assertEqual(fit_of(sheet, where, 0.0, 18.0, 0.0, H).basis, Basis.ASSUMED)
        cold = fit_of(sheet_of(limits={"surface_c": [10, None]}), where, H, 18.0, 0.0, 0.0, typed=Typed(surface_c=4.0))
        self.assertEqual([(b.what, b.value) for b in cold.gate.breaches], [("spread", 4 - dew_point_c(18, 55)), ("surface", 4.0)])  # fmt: skip

    def test_what_nobody_knows_is_cold_and_damp_and_warm_and_dry(self):
        """5 °C and 85 % for two days, then unknown; assumed 25 °C and 40 %: under 8 °C and over 20 °C are both said."""
        t = np.arange(49) * H
        shed = series.from_readings(t, np.full(49, 5.0), np.full(49, 85.0), 48 * H, series.Assumption(25, 40))
        sheet = sheet_of(limits={"air_c": [8, 20], "rh_pct": [60, 80], "spread_k": 0}, flash=180)
        found = fit_of(sheet, air.journey([(0, shed, "shed")]), 0.0, 5.0, 48.5 * H, 48.5 * H)
        self.assertEqual([(b.what, b.side) for b in found.gate.breaches], [("humidity", "high"), ("air", "low"), ("air", "high")])  # fmt: skip

    def test_rules_say_the_hour_and_what_is_taken(self):
        where = straight((-9, 20, 50), (1, 20, 50), (5, 20, 90), (30, 20, 90))
        sheet = sheet_of(limits={"rh_pct": [None, 75], "spread_k": 0}, flash=60, handle=180)
        for most, rule, words in (
            (75, "blush", "While it dries: humidity 78"),
            (52, "damp", "at most 52 % at 01 Jan 02:00 UTC."),
        ):
            limits = {"rh_pct": [None, most], "spread_k": 0}
            sheet = sheet_of(limits=limits, flash=60, handle=180)
            fit = fit_of(sheet, where, 0.0, 20.0, 0.0, H)
            said = air_said(sheet, 0.0, H, fit)
            self.assertEqual(list(said), [rule])
            self.assertIn(words, said[rule])


class SkyTests(SimpleTestCase):
    def test_nights_against_pvlib(self):
        """Sunset less an hour to sunrise and two: within a minute of pvlib's solar position algorithm (NREL SPA)."""
        for north, east in (VIENNA, (40.7, -74.0), (64.1, -21.9)):
            for day in (date(2026, 3, 29), date(2026, 6, 21), date(2026, 11, 26)):
                with self.subTest(north, day=day):
                    stamps = pandas.DatetimeIndex([pandas.Timestamp(day, tz="UTC") + pandas.Timedelta(days=n) for n in (0, 1)])  # fmt: skip
                    want = pvlib.solarposition.sun_rise_set_transit_spa(stamps, north, east)
                    found = night_after(day, north, east)
                    self.assertAlmostEqual(found[0] + H, want["sunset"].iloc[0].timestamp(), delta=60)
                    self.assertAlmostEqual(found[1] - 2 * H, want["sunrise"].iloc[1].timestamp(), delta=60)
        midsummer, midwinter = (night_after(date(2026, month, 21), 78.2, 15.6) for month in (6, 12))
        self.assertAlmostEqual(midsummer[1], midsummer[0], delta=60)
        self.assertAlmostEqual((midwinter[1] - midwinter[0]) / H, 24, delta=0.1)

    def test_by_the_clock_where_nobody_said_where(self):
        zone = ZoneInfo("Europe/Vienna")
        start = datetime(2026, 5, 12, 10, tzinfo=zone).timestamp()
        nights = Outdoors(frozenset({"Yard"}), None, zone).nights(start, start + 24 * H)
        hours = [datetime.fromtimestamp(t, zone).isoformat()[8:16] for t in nights[0]]
        self.assertEqual((hours, len(nights)), (["12T18:00", "13T08:00"], 1))

    def test_a_clear_night_cools_what_nobody_measured_and_the_sun_is_not_judged(self):
        """12 °C at 60 % outdoors. At night metal is taken at 8 °C: 3.5 K over the dew point; by day heat is not judged.

        1 January 1970 at the clock's hours in UTC: day from 8:00 to 18:00.
        """
        where, sky = straight((-9, 12, 60), (60, 12, 60), place="Yard"), Outdoors(frozenset({"Yard"}))
        limits = {"surface_c": [10, 11], "spread_k": 3}
        sheet = sheet_of(limits=limits, flash=60)
        spread = 8 - dew_point_c(12, 60)
        table = [
            ("day", 10, 11, None, sky, [], False, True),
            ("indoors", 10, 11, None, Outdoors(), [("surface", "high", 12.0)], False, False),
            ("into the night", 16, 17.5, None, sky, [("surface", "low", 8.0)], True, True),
            ("night", 20, 21, None, sky, [("surface", "low", 8.0)], True, False),
            ("night, measured", 20, 20, 12.0, sky, [("surface", "high", 12.0)], False, False),
            ("night, measured long ago", 20, 21.5, 10.5, sky, [("surface", "low", 8.0), ("surface", "high", 12.0)], True, False),
        ]  # fmt: skip
        for name, began, ended, surface_c, out, breaches, night, sun in table:
            with self.subTest(name):
                found = fit_of(sheet, where, 60.0, 12.0, began * H, ended * H, out, Typed(surface_c=surface_c))
                self.assertEqual([(b.what, b.side, round(b.value, 2)) for b in found.gate.breaches], breaches)
                self.assertEqual((found.night, found.sun), (night, sun))
        self.assertGreater(spread, 3)
        inside = air.journey([(0.0, where.stays[0].air, "Yard"), (20 * H, where.stays[0].air, "Shop")])
        self.assertFalse(fit_of(sheet, inside, 60.0, 12.0, 20 * H, 20 * H, sky).night)
        fit = fit_of(sheet, where, 60.0, 12.0, 20 * H, 21 * H, sky)
        self.assertIn("Outdoors at night its metal is taken 4 K under the air, assumed.", air_said(sheet, 20 * H, 21 * H, fit)["cold"])  # fmt: skip
        by_day = fit_of(sheet, where, 60.0, 12.0, 10 * H, 11 * H, sky)
        self.assertEqual(air_said(sheet, 10 * H, 11 * H, by_day), {})

    def test_ahead_of_metal_outdoors_lie_its_nights(self):
        """12 °C and a limit of 10 °C: fit but from 18:00 to 8:00, when the metal is taken at 8 °C."""
        cut = straight((-9, 12, 60), (60, 12, 60)).air(10 * H, 40 * H)
        nights = Outdoors(frozenset({"Yard"})).nights(10 * H, 40 * H)
        for told, fit in (((), [(10, 40)]), (nights, [(10, 18), (32, 40)])):
            found = outlook.outlook(cut, 60.0, 12.0, Limits(surface_c=(10, None)), told)
            self.assertEqual([tuple(round(t / H, 4) for t in span) for span in found.fit], fit)
            self.assertEqual(found.metal_c.min(), 8.0 if told else 12.0)


class ThickTests(SimpleTestCase):
    def test_thicker_film_takes_the_square_and_four_at_most(self):
        for film, times in ((40, 1), (50, 1), (60, 1.44), (75, 2.25), (100, 4), (300, 4)):
            with self.subTest(film):
                self.assertAlmostEqual(thicker(film, 50), times)

    def test_minimums_wait_for_thick_film_and_a_clear_for_the_wet_stack(self):
        """Opens 60 min, flash 20, closes 600, by a sheet of 50 µm. 75 µm: 135 and 45 min, the close as it was.

        Three wet on wet of 25, 25 and 30 µm are 80: x 2.56 before a clear and for the flash, x 1 for the next coat.
        """
        document = copy.deepcopy(PRIMER) | {"times": {"flash": [[0, 20], [40, 20]]}}
        row = {"opens": [[0, 60], [40, 60]], "closes": [[0, 600], [40, 600]]}
        document["windows"] = [{"next": "self", "wet_on_wet": True, **row}, {"next": "kind:clear-coat", **row}]
        sheet = sheets.read(document)
        where = straight((-9, 20, 50), (30, 20, 50))

        def coat(began, film, entry):
            return Coated(began * H, (began + 0.1) * H, 1.0, "b", entry, sheet, Film(film, Basis.MEASURED, ""), sheet.product)  # fmt: skip

        def minutes(events, kind, toward):
            surface = fold(events, "steel", where, 2 * H, toward)
            clock, top = surface.clock(kind), surface.top
            return round((clock.opens_s - top.ended_s) / 60, 3), clock.closes_s and round((clock.closes_s - top.began_s) / 60, 3)  # fmt: skip

        again, clear = Toward(sheet.product, sheet.kind), Toward("Clear", "clear-coat")
        one, three = [coat(0, 75, 1)], [coat(0, 25, 1), coat(0.4, 25, 2), coat(0.8, 30, 3)]
        self.assertEqual(minutes(one, "recoat", again), (135, 600))
        self.assertEqual(minutes(one, "flash", again), (45, None))
        self.assertEqual(minutes(three, "recoat", again), (60, 600))
        self.assertEqual(minutes(three, "recoat", clear), (153.6, 600))
        self.assertEqual(minutes(three, "flash", again), (51.2, None))
        for times, began, together in (({"touch": [[0, 15], [40, 15]]}, 0.4, False), ({"touch": [[0, 40], [40, 40]]}, 0.4, True), ({"touch": [[0, 10], [40, 10]], "sandable": [[0, 90], [40, 90]]}, 0.4, True), ({}, 10.1, False), ({}, 9.9, True)):  # fmt: skip
            with self.subTest("dry by its sheet, else by the close of 10 h", times=times, began=began):
                by = sheets.read(document | {"times": {"flash": [[0, 20], [40, 20]], **times}})
                two = [Coated(at * H, (at + 0.1) * H, 1.0, "b", n, by, Film(30, Basis.MEASURED, ""), by.product) for n, at in enumerate((0, began))]  # fmt: skip
                self.assertAlmostEqual(longer_of(fold(two, "steel", where, 12 * H).layers, where), 1.44 if together else 1)  # fmt: skip
        dry = sheets.read(document | {"windows": [{"next": "self", **row}]})
        apart = fold([coat(0, 40, 1), Coated(H, 1.1 * H, 1.0, "b", 2, dry, Film(40, Basis.MEASURED, ""), "x")], "steel", where, 2 * H)  # fmt: skip
        self.assertEqual(longer_of(apart.layers, where), 1.0)
