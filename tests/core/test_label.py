"""What stands on a tin, read as it stands; what nobody told stays unknown, what is typical says so."""

import copy
import json
from pathlib import Path

import yaml
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.product import entry, film, label, mixing, pasted, sheet_pdf
from emplastra.core.product.answers import answers
from emplastra.core.product.asks import KINDS, TAKEN, typical_of
from emplastra.core.product.kinds import ProductKind
from emplastra.core.product.label import LabelError, Means
from emplastra.core.product.mixing import Measure, Part
from emplastra.core.product.sheet import SheetError, problems_of, read
from emplastra.core.product.spoken import duration
from emplastra.core.surface import clocks
from emplastra.core.surface.events import Coated
from emplastra.core.surface.fold import Toward
from emplastra.core.surface.integral import crossing
from emplastra.core.surface.names import Runs, Status
from emplastra.core.working import Basis, Unknown
from tests.core.test_surface import where

ROOT = Path(__file__).resolve().parents[2]
US = Means("us")
LIBRARY = yaml.safe_load((ROOT / "emplastra/demo/library.yaml").read_text())["sheets"]
SHEETS = [yaml.safe_load(p.read_text()) for p in sorted((ROOT / "emplastra/demo/sheets").glob("*.yaml"))] + LIBRARY
H, DAY = 60.0, 1440.0
ANY = "unknown"


def document(typed, kind="epoxy-primer", form="mixed", assume=(), **ticks):
    """The document of a tin's label; it must be sound."""
    made = entry.entered(entry.skeleton(kind, form, "A tin"), typed, ticks, frozenset(assume))
    assert not made.errors, made.errors
    return {**made.document, "date": "2026-01-01"}


class GrammarTests(SimpleTestCase):
    def check(self, reader, table):
        for text, expected in table:
            with self.subTest(text):
                if isinstance(expected, str) and expected != ANY:
                    self.assertRaisesRegex(LabelError, expected, reader, text)
                else:
                    self.assertEqual(reader(text), expected)

    def test_times_at_temperatures(self):
        """A single time is meant at 20 °C, a range at its careful end: common practice, no source."""
        self.check(label.times, [
            ("2 h", [[20, 2 * H]]), ("1 h 10", [[20, 70]]), ("90 min at 10 °C", [[10, 90]]), ("15-20 min @ 20C", [[20, 20]]), ("1/2 h", [[20, 30]]), ("1,5 h (68 °F)", [[20, 90]]),
            ("7 days", [[20, 7 * DAY]]), ("4 h at 10 °C, 2 h at 20, 1 h 10 at 30 °C", [[10, 240], [20, 120], [30, 70]]), ("30 °C: 1 h; 10 °C: 4 h", [[10, 240], [30, 60]]),
            ("2 h at 18–22 °C", [[22, 120]]), ("RH 50 %: 20 min at 20 °C; RH 80 %: 40 min at 20 °C", {"rh": [[50, [[20, 20]]], [80, [[20, 40]]]]}),
            ("20", "min, or h"), ("tomorrow", "is no time"), ("0 h", "above 0"), ("2 h at 20 °C, 3 h at 20 °C", "named twice"), ("2 h at 900 °C", "is no temperature"), ("x" * 301, "at most 300"),
            ("RH 50 %: 20 min", "by humidity, write at least two"), ("2 days 10", "is no time"), ("", "write a time"),
        ])  # fmt: skip
        self.assertEqual(label.times("15-20 min", "max"), [[20, 15]])
        self.assertEqual(label.times("2 h at 18–22 °C", "max"), [[18, 120]])
        self.assertEqual(label.times("2 h at 68", "min", US), [[20, 120]])

    def test_windows_with_their_ends_told_or_not(self):
        def one(opens, closes, at=20):
            told = {
                "opens": opens if opens == ANY else [[at, opens]],
                "closes": closes if closes in (None, ANY) else [[at, closes]],
            }
            return [told]

        self.check(label.window, [
            ("2 h to 24 h", one(120, DAY)), ("2-24 h at 20 °C", one(120, DAY)), ("from 2 h until 24 h", one(120, DAY)), ("min. 2 h, max. 24 h", one(120, DAY)), ("between 2 and 24 h", one(120, DAY)),
            ("after 2 h", one(120, ANY)), ("after 2 h, no limit", one(120, None)), ("after 2 h at 10 °C, no limit", one(120, None, 10)), ("within 24 h", one(ANY, DAY)), ("90 min to 2 days at 10 °C", one(90, 2 * DAY, 10)),
            ("within 1 h or after 24 h", [*one(1, 60), *one(DAY, ANY)]), ("within 1 h or after 24 h, no limit", [*one(1, 60), *one(DAY, None)]),
            ("4 h to 48 h at 10 °C, 2 h to 24 h at 20 °C", [{"opens": [[10, 240], [20, 120]], "closes": [[10, 2 * DAY], [20, DAY]]}]),
            ("soon", "is no time"), ("within 1 h to 2 h to 3 h", "is no window"), ("after 2 h or after 24 h", "first stretch needs an end"), ("no limit", [{"opens": ANY, "closes": None}]),
            ("within 1 h or after 24 h at 10 °C, 2 h to 3 h at 20 °C", "as many stretches"),
        ])  # fmt: skip

    def test_a_ratio_is_never_guessed(self):
        table = [
            ("4:1 by volume, hardener S", ((4, 1), "volume", "S", None)), ("100:2 by weight", ((100, 2), "mass", "", None)), ("2 % by weight", ((100, 2), "mass", "", None)), ("4:1:0.5 v/v", ((4, 1, 0.5), "volume", "", None)),
            ("3:1 by volume, cold hardener K, 8-15 °C", ((3, 1), "volume", "cold hardener K", (8, 15))),
        ]  # fmt: skip
        for text, expected in table:
            with self.subTest(text):
                found = label.ratio(text)
                self.assertEqual((found.parts, found.by, found.hardener, found.band), expected)
        self.assertEqual(label.ratio("4:1:0.5 v/v").thinner_pct, 10)  # 0.5 of 5 parts
        for text, words in (
            ("4:1", "by volume, or by weight"),
            ("4:0 by volume", "each part of 4:0"),
            ("some", "is no ratio"),
            ("2-3 % by weight", "one share of hardener"),
            ("2000:1 by mass", "each part"),
        ):
            with self.subTest(text):
                self.assertRaisesRegex(LabelError, words, label.ratio, text)

    def test_film_coverage_limits_and_the_rest(self):
        """0.5 m² of 400 mL a coat; 350 ft²/US gal = 350 · 0.09290304 / 3.785411784 m²/L: exact definitions."""
        told = lambda text: (lambda f: (f.low_um, f.aim_um, f.high_um, f.wet_um))(label.film(text))  # noqa: E731
        self.check(told, [("40–60 µm", (40, None, 60, None)), ("2 mil", (None, 50.8, None, None)), ("50", (None, 50, None, None)), ("50-75", (50, None, 75, None)), ("50 to 75", (50, None, 75, None)), ("120 µm wet, 50 µm dry", (None, 50, None, 120)), ("min 30 µm, 35 µm, max 45 µm", (30, 35, 45, None)), ("wet 120 µm", "no dry film"), ("0 µm", "above 0"), ("2 cm", "no dry film"), ("40 50 60 µm", "no dry film")])  # fmt: skip
        self.check(label.coverage, [("8–10 m²/L", (8, 10)), ("2 m² per 400 mL can", (5, 5)), ("350 sq ft/US gal", (round(350 * 0.09290304 / 3.785411784, 6),) * 2), ("350 sq ft/gal", "US gal, or imp gal"), ("0.5 m²/L", (0.5, 0.5)), ("a lot", "no coverage"), ("0 m²/L", "more than 0")])  # fmt: skip
        self.check(label.limits, [("10–30 °C, at most 80 %", {"air_c": [10, 30], "surface_c": [10, 30], "rh_pct": [None, 80]}), ("min. 10 °C", {"air_c": [10, None], "surface_c": [10, None]}), ("30-85 % RH, 3 K above dew point", {"spread_k": 3, "rh_pct": [30, 85]}), ("9 °F above dew point", {"spread_k": 5}), ("dry", "not understood"), ("10-30 °C, 7 bar", "not understood")])  # fmt: skip
        self.check(
            label.grits,
            [("P80–P180", ["P80", "P180"]), ("p320", ["P320", "P320"]), ("P99", "no grade"), ("fine", "no grade")],
        )
        self.check(
            label.shelf,
            [
                ("24 months closed, 6 months opened", {"closed_months": 24, "opened_months": 6}),
                ("2 years", {"closed_months": 24}),
                ("26 weeks", {"closed_months": 6}),
                ("long", "not understood"),
            ],
        )
        self.check(
            label.percent,
            [
                ("5-10 %", (5, 10)),
                ("10", (10, 10)),
                ("-1 %", "no share"),
                ("120 %", "from 0 to 100"),
                ("10-5 %", "from 0"),
            ],
        )
        self.check(
            label.use_ml_m2,
            [
                ("180 mL/m²", 180),
                ("0.2 L per m2", 200),
                ("0 mL/m²", "not understood"),
                ("20 L/m²", "not understood"),
                ("much", "not understood"),
            ],
        )
        self.check(
            label.water_parts, [("1:5", 5), ("1 part to 10 of water", 10), ("undiluted", 0), ("some", "not understood")]
        )
        self.check(
            label.count, [("2", 2), ("2–3 coats", 2), ("0", "no number"), ("13", "no number"), ("many", "no number")]
        )
        self.check(
            label.millimetres,
            [("4 mm", 4), ("1/8 in", 3.175), ("deep", "no depth"), ("0 mm", "above 0"), ("101 mm", "above 0")],
        )
        self.check(label.volume_ml, [("4 L", 4000), ("1 US gal", 3785.4118), ("4 gal", "US gal, or imp gal")])

    def test_a_us_workshop_is_understood_and_spoken_to_in_its_own_units(self):
        """1 ft² = 0.09290304 m², 1 US gal = 3.785411784 L, 1 US fl oz = 29.5735295625 mL: exact definitions."""
        ft2, gal, oz = 0.09290304, 3.785411784, 29.5735295625
        us = lambda reader: lambda text: reader(text, US)  # noqa: E731
        near = lambda *values: tuple(round(v, 6) for v in values)  # noqa: E731
        self.check(us(label.coverage), [
            ("310 sq ft/gal", near(310 * ft2 / gal, 310 * ft2 / gal)), ("300–400 sq ft/gal", near(300 * ft2 / gal, 400 * ft2 / gal)), ("20 sq ft per 12 fl oz can", near(20 * ft2 / (12 * oz / 1000), 20 * ft2 / (12 * oz / 1000))),
            ("310 sq ft/imp gal", near(310 * ft2 / 4.54609, 310 * ft2 / 4.54609)), ("lots", "300–400 sq ft/gal"), ("9000 sq ft/gal", "at most 8000 sq ft"),
        ])  # fmt: skip
        self.check(us(label.use_ml_m2), [("1 gal per 200 sq ft", round(1000 * gal / (200 * ft2), 6)), ("0.6 fl oz/sq ft", round(0.6 * oz / ft2, 6)), ("much", "0.6 fl oz/sq ft")])  # fmt: skip
        self.check(us(label.volume_ml), [("1 gal", 3785.4118), ("1 quart", 946.3529), ("much", "is not understood")])
        for reader, said in ((label.film, "2–3 mil"), (label.limits, "50–90 °F"), (label.millimetres, "1/8 in"), (lambda text, means: label.times("", "min", means), "68 °F")):  # fmt: skip
            with self.subTest(said), self.assertRaisesRegex(LabelError, said):
                reader("x", US)
        with self.assertRaisesRegex(LabelError, "68 °F is named twice"):
            label.times("2 h at 68 °F, 3 h at 68 °F", "min", US)
        typed = {"coverage": "310 sq ft/gal", "use": "0.6 fl oz/sq ft", "lift": "1/8 in", "limits": "50 to 95 °F, below 85 %, 5 °F above the dew point"}  # fmt: skip
        made = entry.entered(entry.skeleton("body-filler", "mixed", "A tin"), typed, {}, frozenset(), US)
        self.assertEqual(made.errors, {})
        said = entry.typed_of(made.document, US)
        self.assertEqual([said[name] for name in typed], ["310 sq ft/gal US", "0.6 fl oz US/sq ft", "0.125 in", "50 °F to 95 °F, at most 85 %, 5 °F above dew point"])  # fmt: skip

    @given(st.text(alphabet="0123456789 .,:;-–%°CFhmindays/()µabcto\n", max_size=60))
    @settings(max_examples=300, deadline=None)
    def test_no_text_brings_anything_but_its_own_error(self, text):
        for reader in (label.times, label.window, label.ratio, label.film, label.coverage, label.limits, label.grits, label.shelf, label.percent, label.use_ml_m2, label.water_parts, label.count, label.millimetres, label.volume_ml):  # fmt: skip
            try:
                reader(text)
            except LabelError as error:
                self.assertTrue(str(error))

    @given(st.integers(1, 40000))
    @settings(deadline=None)
    def test_a_written_time_reads_back(self, minutes):
        self.assertEqual(label.minutes(duration(float(minutes))), minutes)


class EntryTests(SimpleTestCase):
    def test_every_sheet_reads_back_from_its_own_words(self):
        """What is written of a document is read to the same words, in metric and in US units; unchanged text changes nothing."""
        for means in (label.METRIC, US):
            for d in SHEETS:
                typed = entry.typed_of(d, means)
                same = entry.entered(d, typed, entry.ticks_of(d), entry.assumed_of(d), means)
                self.assertEqual((same.errors, same.document), ({}, d), d["product"])
                for name in (n for n, text in typed.items() if text):
                    with self.subTest(d["product"], field=name, system=means.system):
                        made = entry.Entered(copy.deepcopy(d))
                        entry._put(made, name, typed[name], means)
                        self.assertEqual((made.errors, entry.typed_of(made.document, means)[name]), ({}, typed[name]))

    def test_every_kind_of_product_is_on_the_shelf_and_can_be_asked(self):
        self.assertEqual({d["kind"] for d in SHEETS}, set(map(str, ProductKind)))
        self.assertGreaterEqual(len(SHEETS), 40)
        self.assertEqual(set(KINDS), set(ProductKind))
        for kind in KINDS:
            d = {**entry.starter(kind), "date": "2026-01-01"}
            with self.subTest(kind):
                self.assertEqual(problems_of(d), [])
                taken = [name for name in TAKEN if typical_of(kind, name) is not None]
                self.assertEqual(set(entry.assumed_of(d)), set(taken))
                self.assertFalse({"variants", "windows", "pot_life", "induction", "substrates"} & set(d))

    def test_unknown_is_unknown_and_names_what_is_missing(self):
        sheet = read(document({}))
        self.assertEqual(
            (sheet.aim_um, sheet.coats, sheet.pot_life, sheet.induction, sheet.no_induction),
            (None, None, None, None, False),
        )
        self.assertTrue(sheet.lacks_ratio)
        self.assertEqual(sheet.solids_pct(None), Unknown("variants", "the ratio of A tin"))
        mixed = read(document({"ratio": "4:1 by volume"}))
        self.assertEqual(mixed.solids_pct(mixed.variants[0]).field, "components/base/solids_pct")
        self.assertEqual(mixed.volume_shares(mixed.variants[0]), {"base": 0.8, "hardener": 0.2})
        by_mass = read(document({"ratio": "100:10 by weight", "solids": "50 %"}))
        self.assertEqual(
            (by_mass.solids_pct(by_mass.variants[0]).field, by_mass.volume_shares(by_mass.variants[0])),
            ("components/base/density_g_ml", {}),
        )
        self.assertEqual(read(document({"induction": "none"})).no_induction, True)

    def test_worked_values_through_a_label(self):
        """By identity m²/L = 10 · VS / DFT: VS 52 % at 75 µm covers 6.9333 m²/L; 150 µm wet of 45 % with 10 % thinner leave 61.3636 µm; 2:1 with densities by hand."""
        sheet = read(
            document(
                {
                    "ratio": "2:1 by volume",
                    "solids": "52 %",
                    "film": "75 µm",
                    "density": "base 1.4, hardener 1.0",
                    "thinner": "10 %",
                }
            )
        )
        variant = sheet.variants[0]
        self.assertAlmostEqual(film.coverage_m2_per_l(sheet.aim_um, sheet.solids_pct(variant).value), 6.9333333333)
        told = read(document({"ratio": "2:1 by volume", "solids": "45 %"}))
        known = film.FilmEvidence(None, told.solids_pct(told.variants[0]), 10, comb_um=[150])
        self.assertAlmostEqual(film.fact_film(known).dft_um, 61.3636363636)
        mix = mixing.ratios(sheet.parts(variant), "volume")
        targets = mixing.plan_pot(mix, 600).targets
        self.assertEqual([round(t.mass_g, 6) for t in targets], [400 * 1.4, 200 * 1.0])
        by_both = read(document({"ratio": "2:1 by volume", "film": "120 µm wet, 50 µm dry"}))
        self.assertAlmostEqual(by_both.solids_pct(by_both.variants[0]).value, 100 * 50 / 120, places=2)
        covered = read(document({"ratio": "2:1 by volume", "film": "50 µm", "coverage": "8–10 m²/L"}))
        found = covered.solids_pct(covered.variants[0])
        self.assertEqual((found.value, found.basis), (40.0, Basis.ESTIMATED))  # VS = 8 · 50 / 10

    def test_a_typical_figure_carries_its_basis_and_never_stands_for_a_ratio(self):
        d = document(
            {"ratio": "4:1 by volume", "flash": "", "film": "", "solids": ""},
            assume=("film", "solids", "flash", "ratio", "pot_life", "recoat"),
        )
        sheet = read(d)
        self.assertEqual(
            sorted(d["assumed"]),
            ["components/base/solids_pct", "components/hardener/solids_pct", "film", "times/flash"],
        )
        self.assertEqual(
            (sheet.solids_pct(sheet.variants[0]).basis, sheet.basis("film"), sheet.basis("limits")),
            (Basis.ASSUMED, Basis.ASSUMED, Basis.SHEET),
        )
        self.assertEqual((sheet.pot_life, sheet.windows), (None, ()))
        guessed = film.fact_film(film.FilmEvidence(50, sheet.solids_pct(sheet.variants[0]), comb_um=[100]))
        self.assertEqual((guessed.basis, "typical of its kind" in guessed.how), (Basis.ASSUMED, True))
        flash = crossing(where(), sheet.times["flash"], 0.0)
        self.assertAlmostEqual(flash.t_s, 20 * 60.0)
        self.assertEqual(flash.shares.leading(), Basis.ASSUMED)
        told = entry.entered(d, {"flash": "30 min", "film": "45 µm"}, None, frozenset({"film", "flash"}))
        self.assertEqual((told.document["times"]["flash"], told.document["film"]), ([[20, 30]], {"typical_um": 45}))
        self.assertEqual(entry.assumed_of(told.document), {"solids"})
        self.assertNotIn("film", entry.entered(d, {"film": ""}, None, frozenset()).document)
        for path in ("variants", "pot_life", "windows/0/closes", "components/base/density_g_ml"):
            self.assertRaises(SheetError, read, {**d, "assumed": [path]})

    def test_what_cannot_be_is_questioned_at_its_field(self):
        table = [
            ({"cure": "2 h at 10 °C, 3 h at 20 °C"}, "cure", "takes longer at"), ({"recoat": "24 h to 2 h"}, "recoat", "closes before it opens"), ({"recoat": "within 2 h or after 1 h"}, "recoat", "opens before the stretch before it"),
            ({"ratio": "4:0 by volume"}, "ratio", "above 0"), ({"solids": "0 %", "film": "50 µm"}, "solids", "above 0 %"), ({"film": "max 40 µm, min 60 µm"}, "film", "must rise"), ({"coverage": "0 m²/L"}, "coverage", "more than 0"),
            ({"thinner": "lots"}, "thinner", "no share"), ({"density": "base 0"}, "density", "must be from"), ({"voc": "base 2000"}, "voc", "must be from 0 to 1200"), ({"solids": "lid 50 %"}, "solids", "no part"), ({"over": "converter"}, "over", "yes or no"), ({"windows": "after 2 h"}, "windows", "a colon"),
            ({"schedules": "hot"}, "schedules", "force-dry"), ({"tins": "big"}, "tins", "part, size"), ({"tins": "base 96.00"}, "tins", "part, size"), ({"film": "20 µm wet, 50 µm dry"}, "film", "wet film cannot"),
        ]  # fmt: skip
        for typed, name, words in table:
            with self.subTest(typed):
                made = entry.entered(entry.skeleton("epoxy-primer", "mixed", "A"), typed)
                self.assertRegex(made.errors.get(name, ""), words)
        bands = {
            "3:1 by volume, cold hardener, 5–18 °C\n4:1 by volume, hardener, 15–30 °C": "two ratios hold",
            "3:1 by volume, cold hardener, 5–12 °C\n4:1 by volume, hardener, 15–30 °C": "no ratio holds",
            "3:1 by volume, cold hardener, 5–15 °C\n4:1 by volume, hardener, 15.5–30 °C": "no ratio holds",
            "3:1 by volume, cold hardener, 5–15 °C\n4:1 by volume, hardener, 15–30 °C": "",
        }
        for text, words in bands.items():
            with self.subTest(words):
                made = entry.entered(entry.skeleton("epoxy-primer", "mixed", "A"), {"ratio": text})
                self.assertEqual(made.errors, {})
                self.assertIn(words, made.questions.get("ratio", ""))
                self.assertEqual(bool(words), "ratio" in made.questions)
        usual = entry.entered(entry.skeleton("epoxy-primer", "mixed", "A"), {"film": "50 µm"})
        self.assertEqual((usual.errors, usual.questions), ({}, {}))
        self.assertIn(
            "usual", entry.entered(entry.skeleton("epoxy-primer", "mixed", "A"), {"film": "2 µm"}).questions["film"]
        )

    def test_figures_of_parts_are_written_once_where_they_are_one(self):
        for typed, text in (
            ("50", "50 %"), ("base 52, hardener 44", "base 52 %, hardener 44 %"), ("base 52", "base 52 %"), ("base 50, thinner 50", "base 50 %, thinner 50 %"), ("50; thinner 50", "base 50 %, hardener 50 %, thinner 50 %"),
        ):  # fmt: skip
            with self.subTest(typed):
                d = document(
                    {
                        "ratio": "4:1 by volume, hardener Q",
                        "thinner": "5 %",
                        "solids": typed.replace("hardener", "hardener Q"),
                    }
                )
                self.assertEqual(entry.typed_of(d)["solids"].replace(" q", ""), text)
                self.assertEqual(d["variants"][0]["name"], "hardener Q")

    def test_times_that_are_told_are_written_out(self):
        typed = {"flash": "20 min at 20 °C", "cure": "14 days at 10 °C, 7 days at 20 °C", "touch": "90 min at 20 °C"}
        found = entry.typed_of(document(typed))
        self.assertEqual({name: found[name] for name in typed}, typed)

    def test_a_full_sheet_asks_what_its_kind_can_have(self):
        for kind, form, has, lacks in (
            ("epoxy-primer", "mixed", {"density"}, {"contact", "use", "dilution", "lift"}), ("epoxy-primer", "ready", {"density"}, {"ratio", "induction", "pot_life", "use"}), ("cleaner", "ready", {"density"}, {"ratio", "use"}),
        ):  # fmt: skip
            with self.subTest(kind, form=form):
                more = set(entry.more_of(kind, form))
                self.assertEqual((has - more, lacks & more), (set(), set()))

    def test_revising_keeps_parts_and_what_no_label_can_say(self):
        d = next(d for d in LIBRARY if d["product"].startswith("Encapsulator, moisture"))
        made = entry.entered(d, {"flash": "3 h", "windows": entry.typed_of(d)["windows"] + "\nbody filler: after 24 h"})
        self.assertEqual(made.document["windows"][0], d["windows"][0])
        self.assertEqual(made.document["windows"][1], {"next": "kind:body-filler", "opens": [[20, DAY]], "closes": ANY})
        epoxy = next(d for d in LIBRARY if d["product"].startswith("Epoxy primer, buff"))
        renamed = entry.entered(epoxy, {"ratio": "3:1 by volume, hardener Q"}).document
        self.assertEqual(
            [(c["name"], c.get("density_g_ml")) for c in renamed["components"]],
            [("Base", 1.38), ("Hardener Q", 0.97), ("Thinner", 0.87)],
        )
        two = entry.entered(
            epoxy, {"ratio": "3:1 by volume, hardener Q, 5-15 °C; 4:1 by volume, reducer R, 15-30 °C"}
        ).document
        self.assertEqual(
            [(c["name"], c["role"]) for c in two["components"]],
            [("Base", "base"), ("Hardener Q", "hardener"), ("Reducer R", "thinner"), ("Thinner", "thinner")],
        )
        thinned = document({"ratio": "4:1:0.5 by volume"}, methods=["brush"])
        self.assertEqual(thinned["thinner"], {"component": "thinner", "pct": {"brush": 10.0}})


class UnknownClockTests(SimpleTestCase):
    def surface(self, recoat, t_s, keyed_s=None):
        sheet = read(document({"recoat": recoat, "ratio": "4:1 by volume"}))
        coat = Coated(0.0, 0.0, 1.0, "p", 1, sheet, film.Film(None, Basis.ASSUMED, ""), "A tin")
        return clocks.fold((coat,), "steel", where(), t_s, Toward("Next", "base-coat"))

    def test_an_end_that_nobody_told_is_said_and_never_taken_for_none(self):
        open_ended = self.surface("after 2 h", 3 * 3600.0).clock(Runs.RECOAT)
        self.assertEqual((open_ended.status, open_ended.opens_s, open_ended.closes_s), (Status.OPEN, 7200.0, None))
        self.assertIn("until when: cannot say", open_ended.untold)
        self.assertEqual(self.surface("after 2 h, no limit", 3 * 3600.0).clock(Runs.RECOAT).untold, "")
        only_end = self.surface("within 24 h", 3600.0).clock(Runs.RECOAT)
        self.assertEqual((only_end.status, only_end.closes_s), (Status.UNJUDGED, 86400.0))
        self.assertIn("cannot say", only_end.note)
        self.assertEqual(self.surface("within 24 h", 90000.0).clock(Runs.RECOAT).status, Status.MISSED)
        self.assertEqual(self.surface("within 1 h or after 24 h", 7200.0).clock(Runs.RECOAT).status, Status.WAITING)

    def test_film_that_is_not_known_stays_so_through_the_stack(self):
        layer = self.surface("after 2 h", 3600.0).layers[0]
        self.assertEqual(
            (layer.left_um, layer.sanded(5).left_um, clocks.thicker(None, 50), clocks.thicker(50, None)),
            (None, None, 1.0, 1.0),
        )
        said = {
            a.question: a.text
            for a in answers(read(document({"ratio": "4:1 by volume", "recoat": "4 h at 10 °C, 2 h at 20 °C"})), 20.0)
        }
        self.assertEqual(said, {"Mix": "4 : 1 by volume", "Pot lives": "", "Coat again after": "2 h", "Until": ""})


class CupTests(SimpleTestCase):
    BASE, HARDENER, THINNER = Part("b", "Base", 4), Part("h", "Hardener", 1), Part("t", "Thinner", 1, role="thinner")

    def test_what_is_not_told_leaves_only_the_ratios_own_way(self):
        dense = (Part("b", "B", 4, 1.5), Part("h", "H", 1, 1.0))
        plain = (self.BASE, self.HARDENER)
        for parts, by, thinner, ways in (
            (dense, "volume", None, (Measure.SCALE, Measure.CUP)), (plain, "volume", None, (Measure.CUP,)), (plain, "mass", None, (Measure.SCALE,)), (plain, "mass", self.THINNER, ()), (plain, "volume", self.THINNER, (Measure.CUP,)),
        ):  # fmt: skip
            with self.subTest(by=by, thinner=thinner):
                self.assertEqual(mixing.measures(parts, by, thinner), ways)
        self.assertEqual(mixing.ratios(plain, "volume").field, "components/b/density_g_ml")
        self.assertEqual(mixing.ratios((dense[0], self.HARDENER), "volume").field, "components/h/density_g_ml")

    def test_paint_by_what_a_litre_covers(self):
        """2 m² at 5 m²/L are 400 mL; brushed 95 % stay and 10 mL a pot are left: 400 / 0.95 + 20, and 10 % thinner on it."""
        asked = film.CoatAsked(2.0, 0.0, 0.0, "brush", thinner_pct=10.0, parts={"b": 4, "h": 1}, pots=2)
        found = film.need_by_coverage(asked, 5.0)
        mixed = 400 / 0.95 + 20
        for got, expected in (
            (found.mixed_ml, mixed),
            (found.thinner_ml, 0.1 * mixed),
            (found.gun_ml, 1.1 * mixed),
            (found.by_part_ml["h"], mixed / 5),
        ):
            self.assertAlmostEqual(got, expected)

    def test_a_cup_counts_millilitres_and_a_scale_grams(self):
        """600 mL of 4:1 with 10 % thinner: 600 / 5.5 a part; 500 g of 100:2 by mass: 500 / 102 a part."""
        mix = mixing.ratios((self.BASE, self.HARDENER), "volume", 10, self.THINNER, Measure.CUP)
        found = mixing.plan_pot(mix, 600, None, Measure.CUP)
        for got, expected in zip([t.shown for t in found.targets], [4 * 600 / 5.5, 5 * 600 / 5.5, 600], strict=True):
            self.assertAlmostEqual(got, expected)
        self.assertEqual(found.whole, found.targets[-1].shown)
        self.assertEqual([t.mass_g for t in found.targets], [None] * 3)
        self.assertEqual({line.unit for line in found.working.lines}, {"mL"})
        self.assertEqual(found.working.given[0].name, "ratio by volume")
        grams = mixing.plan_pot(mixing.ratios((Part("b", "B", 100), Part("h", "H", 2)), "mass"), 500, 100)
        self.assertAlmostEqual(grams.targets[1].amount, 2 * 500 / 102)
        self.assertEqual({line.unit for line in grams.working.lines}, {"g"})
        self.assertEqual(grams.working.given[0].name, "ratio by mass")
        self.assertEqual((grams.targets[0].volume_ml, grams.targets[0].stick_mm), (None, None))
        dense = mixing.ratios((Part("b", "B", 3, 1.5), Part("h", "H", 1, 1.0)), "mass", 0, None, Measure.CUP)
        self.assertEqual([p.ratio for p in dense], [2.0, 1.0])  # 3/1.5 : 1/1


class PastedTests(SimpleTestCase):
    def test_twelve_sheets_in_as_many_layouts(self):
        """Right, wrong and missed are counted; a wrong value that looks sure must not be."""
        wanted = yaml.safe_load((ROOT / "tests/cases/sheets.yaml").read_text())
        right = wrong = missed = sure = 0
        for key, values in wanted.items():
            got = pasted.read_text((ROOT / f"tests/cases/sheets/{key}.txt").read_text()).proposals
            for p in got:
                if self.same(p.field, p.text, values.get(p.field)):
                    right += 1
                else:
                    wrong, sure = wrong + 1, sure + (not p.doubt)
            missed += sum(all(p.field != name for p in got) for name in values)
        print(
            f"pasted sheets: {len(wanted)} of them; {right} values right, {wrong} wrong, {sure} of these sure, {missed} missed"
        )
        self.assertEqual((sure, len(wanted)), (0, 12))
        self.assertLessEqual(wrong, 2)
        self.assertGreaterEqual(right, 68)

    def same(self, name, text, wanted):
        if wanted is None:
            return False
        made, other = (
            entry.Entered(
                entry.skeleton(
                    "epoxy-primer" if name not in {"use"} else "cleaner", "mixed" if name != "use" else "ready", "x"
                )
            )
            for _ in "ab"
        )
        for each, said in ((made, text), (other, str(wanted))):
            entry._put(each, name, said, label.METRIC)
            self.assertEqual(each.errors, {}, said)
        return made.document == other.document

    def test_what_is_refused_and_what_is_doubted(self):
        for text, words in (
            ("", "no text"),
            ("a\0b", "no text"),
            ("x" * 200_001, "at most"),
            ("Product: A primer\nPot life 2 h\nProduct: B primer", "two products, A primer and B primer"),
        ):
            with self.subTest(words):
                self.assertRaisesRegex(pasted.PasteError, words, pasted.read_text, text)
        doubts = {
            "Pot life 2 h": "names no temperature", "Pot life 2 h at 20 °C\nPot life 3 h at 20 °C": "told otherwise on line 2", "Thinning: max. 10 %": "say how much", "Total dry film 80 µm": "of all coats", "Density 1.4 g/ml": "of which part", "Recoat: min 24 h, max 2 h at 20 °C": "closes before",
        }  # fmt: skip
        for text, words in doubts.items():
            with self.subTest(text):
                self.assertRegex(pasted.read_text(text).proposals[0].doubt, words)
        self.assertEqual([p.text for p in pasted.read_text("Film thickness 50 µm").proposals], ["50 µm"])
        for text in (
            "Mixing ratio 4:1",
            "Wet film 120 µm",
            "Density of the mix 1.4 g/ml",
            "Pot life 2 h 3 h at 20 °C",
            "Flash point 23 °C",
            "Solids 50 % by weight",
            "Cured after 2 h at 500 °C",
            "Hardener addition 2-3 % by weight",
            "Pot life 2 h at 50 % RH, 3 h at 80 % RH",
            "Recoat with another primer: 2 h to 24 h at 20 °C",
        ):
            with self.subTest(text):
                self.assertEqual(pasted.read_text(text).proposals, ())
                self.assertEqual(pasted.read_text(text).missed, (1,))

    @given(
        st.text(
            alphabet=st.sampled_from("PotlifeRecoatmixgratiofilm 0123456789.,:;-–%°CFhmindays/()µ\n\t"), max_size=200
        )
    )
    @settings(max_examples=200, deadline=None)
    def test_no_sheet_brings_anything_but_its_own_error(self, text):
        try:
            found = pasted.read_text(text)
        except pasted.PasteError:
            return
        for p in found.proposals:
            made = entry.Entered(entry.skeleton("epoxy-primer", "mixed", "x"))
            entry._put(made, p.field, p.text, label.METRIC)
            self.assertEqual(made.errors, {}, (p, text))

    def test_the_text_of_a_pdf_keeps_its_columns_apart(self):
        text = sheet_pdf.text_of(
            text_pdf(["Temperature   10 C   20 C", "Pot life: 6 h at 20 deg C", "Mixing ratio by volume 4:1"] * 12)
        )
        self.assertEqual(
            {p.field: p.text for p in pasted.read_text(text).proposals},
            {"pot_life": "6 h at 20 °C", "ratio": "4:1 by volume"},
        )

    def test_pdfs_that_give_no_text(self):
        for data, words in (
            (b"PK\x03\x04 a zip", "is no PDF"),
            (b"%PDF-1.4\nbroken", "cannot be read"),
            (blank_pdf(), "only pictures"),
            (blank_pdf("secret"), "password"),
        ):
            with self.subTest(words):
                self.assertRaisesRegex(sheet_pdf.PdfError, words, sheet_pdf.text_of, data)


def text_pdf(lines):
    """A PDF of one page of Helvetica, written by hand."""
    body = "BT /F1 10 Tf 40 760 Td 14 TL " + " ".join(f"({line}) Tj T*" for line in lines) + " ET"
    objects = [
        "<</Type/Catalog/Pages 2 0 R>>",
        "<</Type/Pages/Kids[3 0 R]/Count 1>>",
        "<</Type/Page/Parent 2 0 R/MediaBox[0 0 600 800]/Contents 4 0 R/Resources<</Font<</F1 5 0 R>>>>>>",
        f"<</Length {len(body)}>>stream\n{body}\nendstream",
        "<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>",
    ]
    out, places = "%PDF-1.4\n", []
    for n, each in enumerate(objects, 1):
        places.append(len(out))
        out += f"{n} 0 obj{each}endobj\n"
    table = "".join(f"{at:010} 00000 n \n" for at in places)
    return f"{out}xref\n0 6\n0000000000 65535 f \n{table}trailer<</Size 6/Root 1 0 R>>\nstartxref\n{len(out)}\n%%EOF".encode()


def blank_pdf(password=""):
    """A PDF of one empty page, locked if there is a password."""
    import io

    from pypdf import PdfWriter

    writer, out = PdfWriter(), io.BytesIO()
    writer.add_blank_page(200, 200)
    if password:
        writer.encrypt(password, algorithm="RC4-128")
    writer.write(out)
    return out.getvalue()


class PlainTests(SimpleTestCase):
    def test_documents_stay_plain_data(self):
        d = document({"ratio": "4:1 by volume", "recoat": "within 1 h or after 24 h", "limits": "10–30 °C"})
        self.assertEqual(json.loads(json.dumps(d)), d)
