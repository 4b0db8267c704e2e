"""The look: contrast of the tokens by the formula of WCAG 2.2 (1.4.3 and 1.4.11), and no colour outside of them."""

import re
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

CSS = Path(settings.BASE_DIR) / "emplastra" / "static" / "css"
WORDS = ("ink", "soft", "oxide", "open", "closing", "waiting")
ON_THE_BAND = ("band-text", "band-soft", "band-oxide", "band-open", "band-closing", "band-waiting")
#: (what is read or seen, on which grounds, at least)
PAIRS = [
    *[(word, ("paper", "sheet", "bulma-input-background-color"), 4.5) for word in WORDS],
    *[(word, ("band",), 4.5) for word in ON_THE_BAND],
    ("ink", ("open-fill", "closing-fill"), 4.5),
    ("band-text", ("band-2",), 4.5),
    ("band-soft", ("band-2",), 4.5),
    ("on-text", ("on-open", "on-stop", "band", "band-2"), 4.5),
    ("edge", ("paper", "sheet", "bulma-input-background-color"), 3),
    ("band-edge", ("band", "band-2"), 3),
    ("focus", ("paper", "sheet"), 3),
    ("band-closing", ("band", "band-2", "on-stop"), 3),  # the ring of the focus on dark grounds
]


def tokens(selector):
    """{token: "#rrggbb"} that a rule of tokens.css tells."""
    rule = re.search(re.escape(selector) + r" \{(.*?)\n\}", (CSS / "tokens.css").read_text(), re.DOTALL)[1]
    found = dict(re.findall(r"--([\w-]+): (#[0-9a-f]{3,6});", rule))
    return {
        name: value if len(value) == 7 else "#" + "".join(2 * c for c in value[1:]) for name, value in found.items()
    }


def luminance(colour):
    """Relative luminance of "#rrggbb" [0..1], WCAG 2.2."""
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a, b):
    """Contrast ratio of two colours [1..21], WCAG 2.2."""
    darker, lighter = sorted((luminance(a), luminance(b)))
    return (lighter + 0.05) / (darker + 0.05)


class ContrastTests(SimpleTestCase):
    def test_the_formula(self):
        # Black on white is 21:1 (WCAG 2.2, definition of contrast ratio); #767676 is the lightest grey of 4.5 on white (from memory).
        self.assertAlmostEqual(contrast("#000000", "#ffffff"), 21.0)
        self.assertGreater(contrast("#767676", "#ffffff"), 4.5)
        self.assertLess(contrast("#777777", "#ffffff"), 4.5)

    def test_every_token_can_be_read_on_its_grounds(self):
        light = tokens(':root, [data-theme="light"]')
        for mode, known in (("light", light), ("gloves", light | tokens("html.gloves"))):
            for name, grounds, least in PAIRS:
                for ground in grounds:
                    with self.subTest(f"{mode}: {name} on {ground}"):
                        self.assertGreaterEqual(contrast(known[name], known[ground]), least)

    def test_colours_stand_in_the_tokens_alone(self):
        # A map's stages, and print on white, have grounds of their own.
        for sheet in sorted(CSS.glob("*.css")):
            lines = sheet.read_text().splitlines()
            odd = [line for line in lines if re.search(r"#[0-9a-f]{3,6}\b", line) and ".m-key" not in line]
            with self.subTest(sheet.name):
                self.assertTrue(sheet.name in {"tokens.css", "print.css"} or not odd, odd)
