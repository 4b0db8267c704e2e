"""Cases as data: facts of the trade and the word that each earns. Rules come and go, the rows stay.

All rows are common practice, no source, but for the sheets' figures, which are their own.
"""

import copy
from datetime import date
from pathlib import Path

import yaml
from django.test import SimpleTestCase

from emplastra.core.air import journey as air
from emplastra.core.air.sun import Outdoors
from emplastra.core.metal.known import Metal
from emplastra.core.product import sheet as sheets
from emplastra.core.product.film import Film
from emplastra.core.rules import coat as coats
from emplastra.core.rules import metal as metals
from emplastra.core.rules.coat import CoatCase, PotTimes
from emplastra.core.surface.events import Coated
from emplastra.core.surface.fit import fit_of
from emplastra.core.surface.fold import build
from emplastra.core.survey.answers import Answer
from emplastra.core.working import Basis
from tests.base import PRIMER
from tests.core.test_fit import straight

H = 3600.0
CASES = Path(__file__).parent.parent / "cases"
ASPECTS = {
    "early": "window", "late": "window", "no-window": "window", "induction": "pot", "dead-pot": "pot", "thin": "film",
    "thick": "film", "sag": "film", "out-of-date": "tins", "cannot-say": "sheet",
    **dict.fromkeys(("dew", "damp", "dry", "cold", "hot", "air-unknown", "blush", "sun"), "air"),
    "bare-overdue": "bare", "portions": "bare", "burnished": "key", "holes": "holes", "under-dirt": "dirt", "wax": "wax",
    "weld-unseen": "weld", "trial-fit": "fit",
}  # fmt: skip
GRAVE = ("advises", "warns", "stops")


def sheet_of(told):
    """The test primer with its times as told."""
    document = copy.deepcopy(PRIMER) | {"limits": told.get("limits", {}), "times": {}}
    for name in {"flash", "handle"} & set(told):
        document["times"][name] = [[-20, told[name]], [60, told[name]]]

    def table(name):
        return [[-20, told[name]], [60, told[name]]]

    document["windows"] = []
    if "opens" in told:
        row = {"next": "self", "opens": table("opens"), "closes": table("closes")}
        document["windows"] = [row | ({"again": [{"opens": table("again")}]} if "again" in told else {})]
    return sheets.read(document)


def coat_words(row):
    """{aspect: the gravest word} of a coat as told."""
    sheet = sheet_of(row["sheet"]) if "sheet" in row else None
    basis = air.ASSUMED if row.get("assumed") else air.MEASURED
    place = "Yard" if row.get("yard") else "Shop"
    where = straight(*row.get("air", [[-90, 20, 40], [90, 20, 40]]), basis=basis, place=place)
    began, ended = (h * H for h in row["coat"])
    before = [
        Coated(a * H, b * H, rest[0] if rest else 1.0, "p", n, sheet, Film(row.get("under_um", 50.0), Basis.MEASURED, ""), "Test primer")
        for n, (a, b, *rest) in enumerate(row.get("before", ()), 1)
    ]  # fmt: skip
    more = {}
    if sheet:
        metal_c = row.get("metal_c", where.at(began).air_c)
        more["fit"] = fit_of(sheet, where, 3600.0, metal_c, began, ended, Outdoors(frozenset({"Yard"})))
    film = Film(row.get("film", 50.0), Basis.ASSUMED if row.get("planned") else Basis.MEASURED, "")
    pot = PotTimes(*(h * H for h in row["pot"])) if "pot" in row else None
    case = CoatCase(
        "Test primer", sheet, began, ended, build(before, began), where, film, pot=pot, wft_um=row.get("wet_um"), solids_pct=50.0,
        batches=(("B", row.get("use_by")),), on=row.get("on", date.min), **more,
    )  # fmt: skip
    found = {}
    for verdict in coats.verdicts(case, "c"):
        aspect = ASPECTS[verdict.rule]
        found[aspect] = max(found.get(aspect, "advises"), verdict.severity, key=GRAVE.index)
    return found


def metal_words(row):
    """["word aspect", ...] of a zone's metal before its primer."""
    told = row.get("open", {}) | row.get("told", {})
    known = Metal(
        bare=tuple(map(tuple, row.get("bare", ()))),
        bare_overdue_h=row.get("overdue_h"),
        answers={(topic, ""): Answer(topic, "", choice, {}, "", "seen") for topic, choice in told.items()},
        open_findings=frozenset((topic, "") for topic in row.get("open", {})),
        next_step="prime",
        next_product="epoxy-primer",
        **{name: row[name] for name in ("no_flash_rust", "end_state", "stripped_by", "keyed", "welded", "weld_unseen", "trial_fit") if name in row},
    )  # fmt: skip
    return [f"{v.severity} {ASPECTS[v.rule]}" for v in metals.verdicts(known, "z") if v.rule in ASPECTS]


class CaseTests(SimpleTestCase):
    def test_each_case_earns_its_word(self):
        for name, words in (("coat", coat_words), ("metal", metal_words)):
            for row in yaml.safe_load((CASES / f"{name}.yaml").read_text()):
                with self.subTest(f"{name}: {row['name']}"):
                    self.assertEqual(words(row), row["words"])
