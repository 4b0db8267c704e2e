"""The grammar of quantities, and conversions against pint."""

import pint
from django.test import SimpleTestCase
from hypothesis import example, given, settings
from hypothesis import strategies as st

from emplastra.core import units
from emplastra.core.product.mixing import Band, choose_band
from emplastra.core.units import UnitError, convert, parse_product, parse_quantity


class GrammarTests(SimpleTestCase):
    ACCEPTED = [  # text, dimension, default, value in the core's unit (exact definitions of the inch and gallon)
        ("75", "film", None, 75.0),
        ("3 mil", "film", None, 76.2),
        ("1 1/2 in", "length", None, 38.1),
        ("3 ft 6 in", "length", None, 1066.8),
        ("3' 6\"", "length", None, 1066.8),
        ("350", "length", "mm", 350.0),
        ("0,6 L", "volume", None, 600.0),
        ("1 US pt", "volume", None, 473.176473),
        ("1 imp gal", "volume", None, 4546.09),
        ("2 fl oz US", "volume", None, 59.147059125),
        ("64 °F", "temperature", None, 17.7777777778),
        ("-5 °C", "temperature", None, -5.0),
        ("30 psi", "pressure", None, 2.0684271879504),
        ("2 lb", "mass", None, 907.18474),
        ("2 ft x 350 mm", "area", None, 0.6096 * 0.35),
        ("12 sq ft", "area", None, 1.11483648),
        ("10 %", "percent", None, 10.0),
        ("1/2", "length", "in", 12.7),
        ("2/3", "length", "in", 50.8 / 3),
        ("-1/2 in", "length", None, -12.7),
        ("2x3", "area", "m2", 6.0),
        ("2 x 3", "area", "ft2", 6 * 0.09290304),
    ]
    REFUSED = [  # text, dimension, what the message must say
        ("4 oz", "mass", "fl oz US"),
        ("1 gal", "volume", "US gal or imp gal"),
        ("1,234", "length", "1234 or 1.234"),
        ("1.234,5", "length", "more than one separator"),
        ("20 C", "temperature", "write °C"),
        ("9**9**8 m", "length", "350 mm"),
        ("2 g", "length", "350 mm"),
        ("", "mass", "620.5 g"),
        ("1/0 in", "length", "0 below the line"),
        ("7" * 41, "length", "at most 40"),
        ("2 ft x 350", "area", "second length"),
        ("3 ft -6 in", "length", "3 ft 6 in"),
    ]

    def test_what_is_understood(self):
        for text, dimension, default, value in self.ACCEPTED:
            with self.subTest(text):
                got = parse_quantity(text, dimension, default).value
                self.assertAlmostEqual(got, value, places=7)

    def test_what_is_refused_and_what_would_do(self):
        for text, dimension, hint in self.REFUSED:
            with self.subTest(text), self.assertRaises(UnitError) as caught:
                parse_quantity(text, dimension)
            with self.subTest(text=text, part="message"):
                self.assertIn(hint, str(caught.exception))

    def test_68_f_is_20_c_and_in_the_band_that_begins_there(self):
        self.assertEqual([parse_quantity(f"{f} °F", "temperature").value for f in (68, 59, 50, 86)], [20, 15, 10, 30])
        self.assertEqual([convert(c, "°C", "°F") for c in (20, 0, -40)], [68, 32, -40])
        bands = [Band("cold", 5, 20), Band("mild", 20, 30)]
        for temp, key in ((20 - 1e-9, "mild"), (20 - 1e-5, "cold"), (30 + 1e-9, "mild"), (5 - 1e-9, "cold")):
            with self.subTest(temp):
                self.assertEqual(choose_band(bands, temp).band.key, key)
        self.assertIsNone(choose_band(bands, 30.001).band)

    def test_products(self):
        self.assertEqual(parse_product("600 x 350 mm"), (600.0, 350.0))

    @settings(max_examples=300, deadline=None)
    @given(
        st.text(max_size=45) | st.text("0123456789.,/-−+ xX×*:ftinmµL°CFgalozUSsq'\"²%", max_size=42),
        st.sampled_from(sorted(units.CORE_UNIT)),
    )
    @example("0*C", "area")
    def test_any_text_raises_nothing_but_its_own_error(self, text, dimension):
        for read in (lambda: parse_quantity(text, dimension), lambda: parse_product(text)):
            try:
                read()
            except UnitError as error:
                self.assertTrue(str(error))


class ConversionTests(SimpleTestCase):
    def test_every_unit_agrees_with_pint(self):
        ureg = pint.UnitRegistry()
        for dimension, names in units._SPELLINGS.items():
            target = next(
                n for n, s in names.items() if units.CORE_UNIT[dimension].lower() in s or dimension == "percent"
            )
            for name, spellings in names.items():
                with self.subTest(name):
                    expected = ureg.Quantity(7.5, name).to(target).magnitude
                    got = convert(7.5, spellings[0], names[target][0])
                    self.assertAlmostEqual(got / expected, 1, places=12)

    def test_display(self):
        self.assertEqual(units.show(0.09290304, "area", "us"), "1.0 sq ft")
        self.assertEqual(units.show(1500, "volume"), "1.50 L")
        self.assertEqual(units.show(25.4, "film", "us"), "1.0 mil")
