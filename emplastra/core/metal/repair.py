"""Repair or replace: hours by pieces and edges, this workshop's own overrun, and a verdict with its range.

Hours a piece and a metre: common practice, no source. Overrun and range: ours, as the formulas say.
"""

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import FieldError
from ..working import Basis, Given, Line, Working

PRIOR_N, PRIOR_F = 4, 1.5
"""Weight and value of what is assumed before this workshop's own figures. Ours: hours are nearly always
underestimated.
"""
SPREAD, ENOUGH, Z80 = 1.6, 8, 1.28
"""Range before enough jobs are known: a factor either way; jobs that are enough; 80 % of a normal spread."""
UNSEEN_SKIN = 0.2
"""Added to the hours for each skin behind that nobody has seen. Common practice, no source."""
WORK = {
    "strip": "Strip",
    "repair": "Repair",
    "fit": "Fit a part",
    "key": "Key and clean",
    "treat": "Treat",
    "prime": "Prime",
    "fill": "Fill and block",
    "solder": "Run solder in",
    "heat": "Heat",
    "film": "Measure film",
    "colour": "Colour",
    "access": "Take off and refit",
}
"""Kinds of work that hours are told of."""


@dataclass(frozen=True)
class Option:
    """A way to deal with rotten metal: on which side it counts, hours a piece and a metre of edge, a price or not."""

    name: str
    side: str
    piece_h: float
    metre_h: float
    priced: bool = False


OPTIONS: dict[str, Option] = {
    "braze": Option("Braze", "repair", 0.4, 0.0),
    "patch": Option("Patch", "repair", 0.75, 1.5),
    "sections": Option("In sections, made here", "repair", 1.5, 1.8),
    "adapted": Option("Adapted section", "repair", 3.0, 2.0, True),
    "part": Option("Part panel", "replace", 1.5, 1.2, True),
    "whole": Option("Whole panel", "replace", 2.0, 0.8, True),
    "donor": Option("Donor", "replace", 2.5, 1.5, True),
    "outside": Option("Outside quote", "replace", 0.5, 0.0, True),
    "shell": Option("Replacement shell", "replace", 16.0, 0.0, True),
    "watch": Option("Treat and watch", "repair", 0.5, 0.0),
}
"""Options by key."""
HAD: dict[str, str] = {"part": "as a part", "whole": "only whole", "no": "no"}
"""Whether what an option needs can be had."""


class RepairError(FieldError):
    """A figure that cannot be: `field` names it."""


@dataclass(frozen=True)
class Factor:
    """By what planned hours are multiplied: middle, low, high; from how many jobs."""

    mid: float
    low: float
    high: float
    n: int

    @property
    def basis(self) -> Basis:
        """Assumed while nothing is told; estimated from then on."""
        return Basis.ESTIMATED if self.n else Basis.ASSUMED


def factor(told: Sequence[tuple[float, float]]) -> Factor:
    """Overrun of one kind of work from (planned, actual) hours [h].

    f = exp((Σ ln(actual/plan) + 4 ln 1.5)/(n + 4)); range f/1.6 to 1.6 f, from 8 jobs on f·exp(±1.28 s), s the standard
    deviation (n - 1) of ln(actual/plan). Raises RepairError for hours that are not above 0.
    """
    if any(not (plan > 0 and actual > 0) for plan, actual in told):
        raise RepairError("hours", "planned and actual hours must be above 0")
    logs = [math.log(actual / plan) for plan, actual in told]
    n = len(logs)
    mid = math.exp((sum(logs) + PRIOR_N * math.log(PRIOR_F)) / (n + PRIOR_N))
    if n < ENOUGH:
        return Factor(mid, mid / SPREAD, mid * SPREAD, n)
    s = statistics.stdev(logs)
    return Factor(mid, mid * math.exp(-Z80 * s), mid * math.exp(Z80 * s), n)


@dataclass(frozen=True)
class Proposal:
    """One thing to be done: option, pieces, edge [mm], unseen skins, material and price [money], as what it can be
    had (a key of HAD); of: the face that it is for ("": all that share the opening).
    """

    option: str
    pieces: int = 1
    edge_mm: float = 0.0
    unseen: int = 0
    material: float = 0.0
    price: float = 0.0
    had: str = "part"
    of: str = ""

    def check(self) -> "Proposal":
        """Itself. Raises RepairError naming the figure that cannot be."""
        if self.option not in OPTIONS:
            raise RepairError("option", f"must be one of {', '.join(OPTIONS)}")
        for field, value, top in (
            ("pieces", self.pieces, 500),
            ("edge_mm", self.edge_mm, 100_000),
            ("unseen", self.unseen, 9),
            ("material", self.material, 1e6),
            ("price", self.price, 1e7),
        ):
            if not 0 <= value <= top:
                raise RepairError(field, f"must be from 0 to {top:g}")
        if self.pieces < 1:
            raise RepairError("pieces", "must be at least 1")
        if self.had not in HAD:
            raise RepairError("had", f"must be one of {', '.join(HAD)}")
        return self

    @property
    def obtainable(self) -> bool:
        """False if it cannot be had so: not at all, or a part that comes only with the whole."""
        return self.had == "part" or (self.had == "whole" and self.option != "part")

    @property
    def plan_h(self) -> float:
        """Hours as planned, before overrun and contingency [h]."""
        option = OPTIONS[self.option]
        return self.pieces * option.piece_h + self.edge_mm / 1000.0 * option.metre_h


@dataclass(frozen=True)
class Range:
    """A cost or hours with its range."""

    low: float
    mid: float
    high: float

    def __add__(self, other: "Range") -> "Range":
        return Range(self.low + other.low, self.mid + other.mid, self.high + other.high)

    def plus(self, fixed: float) -> "Range":
        """With something added that has no range."""
        return Range(self.low + fixed, self.mid + fixed, self.high + fixed)

    def times(self, by: float) -> "Range":
        """Multiplied, as hours by a rate."""
        return Range(self.low * by, self.mid * by, self.high * by)


NOTHING = Range(0.0, 0.0, 0.0)


def hours_of(piece: Proposal, overrun: Factor) -> Range:
    """Hours of a piece: the low without contingency, middle and high with it for each unseen skin."""
    extra = 1.0 + UNSEEN_SKIN * piece.unseen
    return Range(piece.plan_h * overrun.low, piece.plan_h * overrun.mid * extra, piece.plan_h * overrun.high * extra)


def cost_of(piece: Proposal, overrun: Factor, rate: float) -> Range:
    """Money for a piece: hours by the rate, with material and price."""
    return hours_of(piece, overrun).times(rate).plus(piece.material + piece.price)


@dataclass(frozen=True)
class Outcome:
    """What stands on one side: its name, cost, hours; `had`: False if it cannot be had, and `why` in words."""

    name: str
    cost: Range
    hours: Range
    had: bool = True
    why: str = ""


@dataclass(frozen=True)
class SetVerdict:
    """A set that shares an opening: repair as a whole, what would replace it, and which it is to be.

    said: "repair", "replace", "close", "repair only" (nothing to be had), "replace only" (no repair told), "nothing".
    note: what is to be priced as well, "" for nothing.
    """

    repair: Outcome | None
    replacements: tuple[Outcome, ...]
    said: str
    sentence: str
    note: str = ""


SAID = {
    "repair": "Repair: even if it runs over it is cheaper than the cheapest that can be had.",
    "replace": "Replace: even the dearest fitting is cheaper than the repair at its best.",
    "close": "Close: your call. The ranges overlap.",
    "repair only": "Repair: nothing else can be had.",
    "replace only": "Nothing is told of a repair yet.",
    "nothing": "Nothing can be compared yet.",
}


WHOLES = ("whole", "donor", "shell")
ONLY_WHOLE = "The part comes only whole: price the whole panel, a donor or a shell as well."


def _beside(pieces: Sequence[Proposal]) -> list[Proposal]:
    """Parts for faces of which no repair is told: they are fitted whatever becomes of the other faces."""
    mended = {p.of for p in pieces if OPTIONS[p.option].side == "repair"}
    return [p for p in pieces if p.option == "part" and p.of and p.of not in mended and mended - {""} and p.obtainable]


def _sum(pieces: Sequence[Proposal], opening: Range, factors: dict[str, Factor], rate: float) -> tuple[Range, Range]:
    """(cost, hours) of pieces that are done together, with their opening once."""
    hours, cost = opening, opening.times(rate)
    for piece in pieces:
        overrun = factors["repair" if OPTIONS[piece.option].side == "repair" else "fit"]
        hours, cost = hours + hours_of(piece, overrun), cost + cost_of(piece, overrun, rate)
    return cost, hours


def _together(pieces: Sequence[Proposal], opening: Range, factors: dict[str, Factor], rate: float) -> Outcome | None:
    """All repairs of a set, and the parts beside them, with its opening once; None without any repair."""
    repairs = [p for p in pieces if OPTIONS[p.option].side == "repair" and p.obtainable]
    if not repairs:
        return None
    done = [*repairs, *_beside(pieces)]
    return Outcome(", ".join(sorted({OPTIONS[p.option].name for p in done})), *_sum(done, opening, factors, rate))


def _instead(
    piece: Proposal, pieces: Sequence[Proposal], opening: Range, factors: dict[str, Factor], rate: float
) -> Outcome:
    """What a replacement comes to: a whole does for all; a part for its own face, the others' repairs with it."""
    others = []
    if piece.option not in WHOLES and piece.of:
        repairs = [p for p in pieces if OPTIONS[p.option].side == "repair" and p.obtainable]
        others = [p for p in repairs if p.of != piece.of] + _beside(pieces)
    cost, hours = _sum([piece, *others], opening, factors, rate)
    return Outcome(OPTIONS[piece.option].name, cost, hours, piece.obtainable, _not_had(piece))


def judge_set(pieces: Sequence[Proposal], access_h: float, factors: dict[str, Factor], rate: float) -> SetVerdict:
    """Repairs of a set together, with its opening once, against each thing that would replace them; what is for
    another face behind the same opening is added up, not set against each other.

    access_h [h]: taking off and refitting what is in the way; factors: by kind of work ("repair", "fit", "access").
    """
    opening = Range(*(access_h * x for x in (factors["access"].low, factors["access"].mid, factors["access"].high)))
    repair, beside = _together(pieces, opening, factors, rate), _beside(pieces)
    replacements = tuple(
        _instead(p, pieces, opening, factors, rate)
        for p in pieces
        if OPTIONS[p.option].side == "replace" and p not in beside
    )
    had = [c for c in replacements if c.had]
    said = _said(repair, had, bool(replacements))
    wholes = any(p.option in WHOLES for p in pieces)
    note = ONLY_WHOLE if any(p.had == "whole" and p.option == "part" for p in pieces) and not wholes else ""
    return SetVerdict(repair, replacements, said, SAID[said], note)


def _not_had(piece: Proposal) -> str:
    if piece.obtainable:
        return ""
    return "only whole to be had" if piece.had == "whole" else "not to be had"


def _said(repair: Outcome | None, had: Sequence[Outcome], told: bool) -> str:
    if repair is None:
        return "replace only" if had else "nothing"
    if not had:
        return "repair only" if told else "nothing"
    if repair.cost.high < min(c.cost.low for c in had):
        return "repair"
    if min(c.cost.high for c in had) < repair.cost.low:
        return "replace"
    return "close"


def working(piece: Proposal, overrun: Factor, rate: float) -> Working:
    """How a piece's cost comes about."""
    option, hours, cost = OPTIONS[piece.option], hours_of(piece, overrun), cost_of(piece, overrun, rate)
    given = (
        Given("pieces", f"{piece.pieces}"),
        Given("edge", f"{piece.edge_mm:.0f}", "mm"),
        Given(
            "hours a piece, a metre",
            f"{option.piece_h:g}, {option.metre_h:g}",
            "h",
            Basis.ASSUMED,
            "common practice, no source",
        ),
        Given(
            "overrun",
            f"{overrun.mid:.2f} ({overrun.low:.2f} to {overrun.high:.2f})",
            "",
            overrun.basis,
            f"{overrun.n} jobs of this workshop, weighed with 4 at 1.5",
        ),
        Given("unseen skins", f"{piece.unseen}"),
        Given("material and price", f"{piece.material + piece.price:.0f}"),
        Given("rate", f"{rate:g}", "per h", Basis.TYPED, "settings"),
    )
    lines = (
        Line(
            "planned",
            f"{piece.pieces} · {option.piece_h:g} + {piece.edge_mm / 1000:.2f} · {option.metre_h:g}",
            f"{piece.plan_h:.2f}",
            "h",
        ),
        Line(
            "hours",
            f"planned · overrun · (1 + {UNSEEN_SKIN:g} · unseen)",
            f"{hours.low:.1f} to {hours.high:.1f}, middle {hours.mid:.1f}",
            "h",
        ),
        Line("cost", "hours · rate + material + price", f"{cost.low:.0f} to {cost.high:.0f}, middle {cost.mid:.0f}"),
    )
    return Working(option.name, given, lines, "Overrun: f = exp((Σ ln(actual/plan) + 4 ln 1.5)/(n + 4))")
