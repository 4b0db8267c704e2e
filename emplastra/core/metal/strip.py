"""Ways to bare a face: ranked with reasons for and against that come from what was found on it.

Rates, grades and profiles: common practice, no source.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from ..product.abrasives import ANY_TOOTH, BETTER, LIGHT_TOOTH, TOOTH, GritError, Tooth, grit_plan
from ..words import celsius_q, film_q
from .known import Metal


class WayKind(StrEnum):
    """How a way takes film off."""

    HAND = "hand"
    POWER = "power"
    BLAST = "blast"
    CHEMICAL = "chemical"
    DIP = "dip"
    HEAT = "heat"


@dataclass(frozen=True)
class Way:
    """A way to strip: m2/h on a flat face, grade it reaches, profile [µm], and what it does.

    hard: media that warp thin skins; burnishes: leaves
    it polished; keys: leaves a key of its own; clean_min, waste_min [min/m2]; move_min: set-up, moving.
    """

    name: str
    kind: WayKind
    m2_per_h: float
    grade: str
    profile_um: tuple[float, float]
    media: str = ""
    hard: bool = False
    burnishes: bool = False
    keys: bool = True
    lifts_filler: bool = True
    clean_min: float = 4.0
    waste_min: float = 3.0
    move_min: float = 5.0
    cautions: tuple[str, ...] = ()


_DUST = "Dust of old paint may hold lead: P3 mask, extraction, wet cleaning."
_BLAST = "Blasting: air-fed hood, no silica sand, nobody else in the room, hose and pressure checked."
_SOLVENT = "Stripper: gloves, goggles, fresh air, no flame; waste closed and handed in."
WAYS: dict[str, Way] = {
    "sander": Way("Dual-action sander, P80", WayKind.POWER, 1.2, "St 3", (15, 40), "P80", cautions=(_DUST,)),
    "disc-36": Way("Grinding disc, P36", WayKind.POWER, 2.0, "St 3", (40, 90), "P36", cautions=(_DUST, "Sparks: clear what burns; eyes, hands.")),
    "non-woven": Way("Non-woven disc", WayKind.POWER, 1.0, "St 3", (5, 20), "coarse", clean_min=4, cautions=(_DUST,)),
    "wire-wheel": Way("Wire wheel", WayKind.POWER, 1.6, "St 3", (2, 15), burnishes=True, keys=False, lifts_filler=False, cautions=(_DUST, "Wires fly: eyes, face, leather.")),
    "wire-brush": Way("Wire brush by hand", WayKind.HAND, 0.45, "St 2", (2, 15), burnishes=True, keys=False, lifts_filler=False, cautions=(_DUST,)),
    "needle": Way("Needle scaler", WayKind.POWER, 0.5, "St 3", (30, 90), hard=True, cautions=(_DUST, "Noise and shaking hands: ear protection, pauses.")),
    "scrape": Way("Scraper", WayKind.HAND, 0.8, "St 2", (0, 10), keys=False, waste_min=8, cautions=(_DUST,)),
    "walnut": Way("Blast, fine walnut shell", WayKind.BLAST, 2.5, "Sa 1", (0, 10), "60/200 mesh", keys=False, lifts_filler=False, clean_min=8, waste_min=6, move_min=60, cautions=(_BLAST,)),
    "plastic": Way("Blast, plastic media", WayKind.BLAST, 2.5, "Sa 1", (0, 12), "30/40 mesh", keys=False, lifts_filler=False, clean_min=8, waste_min=6, move_min=60, cautions=(_BLAST,)),
    "garnet": Way("Blast, garnet", WayKind.BLAST, 4.0, "Sa 2½", (40, 75), "80 mesh", hard=True, clean_min=8, waste_min=8, move_min=60, cautions=(_BLAST,)),
    "slag": Way("Blast, coarse slag", WayKind.BLAST, 5.0, "Sa 2½", (60, 100), "20/40 mesh", hard=True, clean_min=8, waste_min=8, move_min=60, cautions=(_BLAST,)),
    "chemical": Way("Paint stripper", WayKind.CHEMICAL, 0.6, "St 2", (0, 5), keys=False, lifts_filler=False, clean_min=10, waste_min=12, cautions=(_SOLVENT,)),
    "dip": Way("Acid dip, sent out", WayKind.DIP, 8.0, "Sa 2½", (0, 10), keys=False, clean_min=4, waste_min=0, move_min=180, cautions=("Acid is the contractor’s; ask what is left on the part and in its laps.",)),
    "heat": Way("Hot air and scraper", WayKind.HEAT, 0.7, "St 2", (0, 5), keys=False, lifts_filler=False, waste_min=8, cautions=(f"Lead fume above {celsius_q(400)}, fire: low heat, extraction, extinguisher at hand.", _DUST)),
}  # fmt: skip
"""Ways by key."""


def note_of(key: str) -> str:
    """How a plan's strip step says that it is done this way. Raises KeyError."""
    name = WAYS[key].name
    return f"by {name[:1].lower()}{name[1:]}"


def way_of(note: str) -> str:
    """Key of the way that a strip step's note names, "" if it names none."""
    return next((key for key in WAYS if note_of(key) == note), "")


def is_by_hand(key: str) -> bool:
    """True if a way needs no machine, blast or bath; False for one not told ("")."""
    return key in WAYS and WAYS[key].kind is WayKind.HAND


KEY_MIN = 12.0
"""Keying what a way leaves smooth [min/m2]. Common practice, no source."""
FORM_SPEED = {"flat": 1.0, "frame": 0.6, "tube": 0.5}
"""How fast hand and power tools get on by form, as a share of flat."""
BLAST_FORM_SPEED = {"flat": 1.0, "frame": 0.85, "tube": 0.8}


@dataclass(frozen=True)
class StripHours:
    """Hours to ready-for-primer, by what they go into."""

    strip: float
    key: float
    clean: float
    waste: float
    move: float

    @property
    def total(self) -> float:
        """All of them [h]."""
        return self.strip + self.key + self.clean + self.waste + self.move


class Against(Protocol):
    """What speaks against a way, and how gravely."""

    @property
    def severity(self) -> str:
        """stops, warns or advises."""


@dataclass(frozen=True)
class Ranked:
    """A way on a zone: verdicts against it, reasons for it, hours, what it leaves."""

    key: str
    way: Way
    hours: StripHours
    against: tuple[Against, ...]
    reasons: tuple[str, ...]

    @property
    def stopped(self) -> bool:
        """True if something stops it."""
        return any(v.severity == "stops" for v in self.against)

    @property
    def warns(self) -> int:
        """How many warnings there are."""
        return sum(v.severity == "warns" for v in self.against)


@dataclass(frozen=True)
class StripPlan:
    """What is done first, the ways in order, what the first coat wants, grits by hand, and what to record first."""

    first: tuple[str, ...]
    ranked: tuple[Ranked, ...]
    tooth: Tooth
    grits: tuple[str, ...]
    record: tuple[str, ...]


def hours_of(key: str, metal: Metal, area_m2: float, cut_share: float = 0.0) -> StripHours:
    """Hours [h] to ready-for-primer on an area [m2], less the share that will be cut out: that is only scraped."""
    way = WAYS[key]
    area = area_m2 * (1.0 - cut_share)
    speed = (BLAST_FORM_SPEED if way.kind in {WayKind.BLAST, WayKind.DIP} else FORM_SPEED).get(metal.form, 1.0)
    layers = 1.0 + 0.25 * max(0, len(metal.rows("layer")) - 1)
    needs_key = not way.keys
    return StripHours(
        area / (way.m2_per_h * speed) * layers,
        area * KEY_MIN / 60 if needs_key else 0.0,
        area * way.clean_min / 60,
        area * way.waste_min / 60,
        way.move_min / 60,
    )


def rank(metal: Metal, area_m2: float, against: Mapping[str, Sequence[Against]], cut_share: float = 0.0) -> StripPlan:
    """Ways to bare an area [m2]: stopped ones last, then by warnings, then by hours to ready-for-primer, then by name.

    against: what is said against each way, by its key.
    """
    tooth = tooth_for(metal)
    found = [
        Ranked(
            key, WAYS[key], hours_of(key, metal, area_m2, cut_share), tuple(said), tuple(_reasons(key, metal, tooth))
        )
        for key, said in against.items()
    ]
    found.sort(key=lambda r: (r.stopped, r.warns, round(r.hours.total, 6), r.way.name))
    return StripPlan(tuple(_first(metal, cut_share)), tuple(found), tooth, _grits(metal, tooth), tuple(_record(metal)))


UNGRADED = frozenset({"aluminium", "laminate"})
"""Substrates of which no grade of cleanliness is asked: ISO 8501-1 is of steel. From memory."""


def fits(way: Way, tooth: Tooth) -> bool:
    """True if a way leaves about the profile that the first coat wants: the middle of what it leaves."""
    return tooth.low_um <= sum(way.profile_um) / 2 <= tooth.high_um


def tooth_for(metal: Metal) -> Tooth:
    """What the first coat wants of the metal."""
    return LIGHT_TOOTH if metal.substrate in UNGRADED else TOOTH.get(metal.first_coat, ANY_TOOTH)


def _first(metal: Metal, cut_share: float) -> Iterator[str]:
    """What comes before any of the ways."""
    if metal.choice("uncovered") in {"dirt", "out-of-reach"}:
        yield "Uncover and wash: nothing is judged or stripped under dirt."
    thick = any(a.choice == "compound" for a in metal.rows("layer"))
    if thick and "none" not in metal.choice("toxic").split("+"):
        yield "Thick compound: a laboratory says first whether asbestos is in it; nobody scrapes it before."
    elif thick:
        yield "Scrape the thick compound off first, warm if need be: media bounce off it. Weigh and hand in the waste."
    if metal.choice("filler") in {"filler", "taped"}:
        yield "Grind or scrape the filler out first: soft media leave it standing."
    if metal.choice("solder") == "seam":
        yield "Solder: heat or file it out by itself, with lead precautions, before anything blows dust about."
    if metal.choice("wax") == "smears":
        yield "Take wax off with solvent first: it clogs grit and goes where media go."
    if cut_share > 0:
        yield f"Of what will be cut out ({cut_share:.0%}) scrape only enough to judge it."


def _record(metal: Metal) -> Iterator[str]:
    """What to stop for and record."""
    for topic, words in (("marks", "Stop and record"), ("sample", "Stop for the first colour")):
        found = metal.answers.get((topic, ""))
        if topic == "marks" and found and found.choice != "none":
            yield (
                f"{words}: {found.text or found.sentence.split(': ', 1)[-1]}. Photograph and measure before "
                f"and while it is stripped."
            )
        if topic == "sample" and (found is None or found.choice == "not-yet"):
            yield f"{words}: a sheltered spot shows it; keep a sample."


def _grits(metal: Metal, tooth: Tooth) -> tuple[str, ...]:
    """Grits by hand from the strip to what the first coat wants, and for a finished skin down to what its film can
    bury.
    """
    first = "P36" if tooth.grit == "P36" else "P80"
    try:
        return tuple(grit_plan(first, tooth.grit))
    except GritError:
        return (tooth.grit,)


def _reasons(key: str, metal: Metal, tooth: Tooth) -> Iterator[str]:
    """What speaks for a way."""
    way = WAYS[key]
    low, high = way.profile_um
    if way.keys and fits(way, tooth):
        yield f"leaves {film_q(low, high)}; the first coat wants {film_q(tooth.low_um, tooth.high_um, unit=False)}"
    if tooth.grade and BETTER.index(way.grade) >= BETTER.index(tooth.grade):
        yield f"reaches {way.grade}"
    yield from (words for speaks, words in _SPEAKS_FOR.get(way.kind, ()) if speaks(key, metal))


def _softened_by_heat(metal: Metal) -> bool:
    return metal.choice("solder") == "seam" or any(a.choice == "compound" for a in metal.rows("layer"))


_SPEAKS_FOR: dict[str, tuple[tuple[Callable[[str, Metal], bool], str], ...]] = {
    "blast": (
        (lambda key, m: m.part in {"casting", "box", "channel"}, "ribbed, boxed and cast parts suit blasting"),
        (
            lambda key, m: key == "walnut" and m.substrate in {"aluminium", "laminate"},
            "gentle on aluminium and laminate",
        ),
    ),
    "dip": ((lambda key, m: True, "reaches every lap and cavity"),),
    "heat": ((lambda key, m: _softened_by_heat(m), "softens solder and thick compound"),),
    "power": (
        (
            lambda key, m: key == "sander" and m.part in {"skin", "door", "inner"},
            "skins are stripped by hand: the sheet stays cold and flat",
        ),
    ),
}
"""What speaks for a kind of way on a zone's metal. Common practice, no source."""
