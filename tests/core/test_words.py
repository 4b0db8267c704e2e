"""Quantities in sentences: written down in the reader's units, the words untouched."""

from django.test import SimpleTestCase

from emplastra.core.units import in_both, parse_number, show
from emplastra.core.words import area_q, celsius_q, film_q, kelvin_q, length_q, volume_q, written


class WrittenTests(SimpleTestCase):
    # Exact definitions: 1 mil = 25.4 µm, 1 in = 25.4 mm, 1 sq ft = 0.09290304 m², 1 fl oz US = 29.5735 mL; °F = 1.8·°C + 32, and 1.8 °F a kelvin.
    CASES = [
        (f"{film_q(76.2)} dry, at least {film_q(50.8, unit=False)}.", "76 µm dry, at least 51.", "3.0 mil dry, at least 2.0."),
        (f"leaves {film_q(25.4, 63.5)}", "leaves 25 to 64 µm", "leaves 1.0 to 2.5 mil"),
        (f"a skin of {length_q(0.8)}", "a skin of 0.8 mm", "a skin of 0.031 in"),
        (f"strip {length_q(254, 50.8, digits=0)}", "strip 254 × 51 mm", "strip 10.00 × 2.00 in"),
        (f"over {area_q(0.46451520)}", "over 0.46 m²", "over 5.0 sq ft"),
        (f"{volume_q(295.735)} used", "296 mL used", "10.0 fl oz US used"),
        (f"below {celsius_q(50)}, 15 %", "below 50 °C, 15 %", "below 122 °F, 15 %"),
        (f"{celsius_q(17.8, digits=1)} now", "17.8 °C now", "64.0 °F now"),
        (f"{kelvin_q(1.5)} above dew", "1.5 K above dew", "2.7 °F above dew"),
    ]  # fmt: skip

    def test_in_both_systems(self):
        for text, metric, us in self.CASES:
            with self.subTest(metric):
                self.assertEqual(written(text), metric)
                self.assertEqual(written(text, "us"), us)

    def test_words_and_broken_marks_stay(self):
        for text in ("No mark: 75 µm | 3; \u2014", "\ue000none|||1|x\ue001", "\ue000half"):
            with self.subTest(text):
                self.assertEqual(written(text, "us").strip("\ue000\ue001"), text.strip("\ue000\ue001"))
        self.assertEqual(written(f"{film_q(25.4)} and {film_q(50.8)}".upper(), "us"), "1.0 mil AND 2.0 mil")  # fmt: skip

    def test_a_working_says_both_where_the_reader_has_other_units(self):
        table = [
            ((0.4645152, "m²"), "0.4645152 m²", "5.0 sq ft (0.4645152 m²)"),
            (("254 × 50.8", "mm"), "254 × 50.8 mm", "10.00 × 2.00 in (254 × 50.8 mm)"),
            ((12, "min"), "12 min", "12 min"),
            (("P120", ""), "P120", "P120"),
        ]
        for told, metric, us in table:
            with self.subTest(told):
                self.assertEqual((in_both(*told, "metric"), in_both(*told, "us")), (metric, us))

    def test_digits_follow_the_unit(self):
        table = [
            ((25.4, "film"), "25 µm", "1.0 mil"),
            ((304.8, "length"), "305 mm", "12.00 in"),
            ((0.09290304, "area"), "0.09 m²", "1.0 sq ft"),
            ((29.5735295625, "volume"), "30 mL", "1.0 fl oz US"),
            ((1500, "volume"), "1.50 L", "50.7 fl oz US"),
            ((620.5, "mass"), "620.5 g", "620.5 g"),
            ((20, "temperature"), "20.0 °C", "68.0 °F"),
            ((3, "difference"), "3.0 K", "5.4 °F"),
            ((2, "pressure"), "2.0 bar", "29.0 psi"),
        ]
        for told, metric, us in table:
            with self.subTest(metric):
                self.assertEqual((show(*told), show(*told, "us")), (metric, us))
        self.assertEqual(written(celsius_q(17.777), "us"), "64 °F")
        self.assertEqual(parse_number("1/16"), 0.0625)
