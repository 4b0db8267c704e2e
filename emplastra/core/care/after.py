"""When a fresh finish may be washed, stand in the sun, be polished and waxed: by its cure.

The cure is the sheet's own, at the air that was. What is waited besides: common practice, no source; the sheet of the
product comes first.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..product.kinds import ProductKind

DAY_S = 86400.0
SOFT = frozenset({ProductKind.ENAMEL, ProductKind.ONE_K_PRIMER})
"""Films that dry by air and stay soft for longest. Common practice, no source."""
GLOSS = frozenset({ProductKind.CLEAR_COAT, ProductKind.SINGLE_STAGE, ProductKind.ENAMEL, ProductKind.FLAKE_URETHANE})


@dataclass(frozen=True)
class May:
    """Something an owner does with a finish.

    from_s: from when it may be [epoch s], None where nobody can say, or never (`never`); how: the way to do it.
    """

    key: str
    what: str
    how: str
    from_s: float | None
    never: bool = False
    why: str = ""

    def is_open(self, t_s: float) -> bool:
        """True if it may be done at a moment [epoch s]."""
        return not self.never and self.from_s is not None and t_s >= self.from_s


def may_be(kind: str, ended_s: float, dry: Mapping[str, float | None]) -> tuple[May, ...]:
    """What may be done with a finish of a product kind whose last coat was on at `ended_s` [epoch s], in order of time.

    dry: when it was, or will be, dry to handle ("handle") and cured ("cure") by its sheet [epoch s]; None or missing
    where the sheet does not tell.
    """
    waits = _Waits(ended_s, dry)
    return tuple(sorted((row(kind, waits) for row in _ROWS), key=_turn))


@dataclass(frozen=True)
class _Waits:
    """Waits that count from the last coat, and never end before it is cured; where that is not told they are not."""

    ended_s: float
    dry: Mapping[str, float | None]

    @property
    def cured(self) -> float | None:
        """When it is cured [epoch s]."""
        return self.dry.get("cure")

    @property
    def handle(self) -> float | None:
        """When it is dry to handle, by its cure where the sheet does not tell [epoch s]."""
        told = self.dry.get("handle")
        return self.cured if told is None else told

    def at(self, days: float) -> float | None:
        """So many days after the last coat, and cured [epoch s]."""
        return None if self.cured is None else max(self.cured, self.ended_s + days * DAY_S)


def _polish(kind: str, waits: _Waits) -> May:
    shines = kind in GLOSS
    why = "cured" if shines else "nothing to polish: it shines no more after it"
    return May("polish", "Polish it", "by hand, seldom: each time takes film", waits.cured, not shines, why)


def _wash(kind: str, waits: _Waits) -> May:
    days, why = (14, "cured, and two weeks") if kind in SOFT else (7, "cured, and a week")
    return May("wash", "Wash it", "by hand: much cold water, a clean sponge, no grit", waits.at(days), why=why)


def _wax(kind: str, waits: _Waits) -> May:
    never = kind == ProductKind.CAVITY_WAX
    why = "wax lies on it already" if never else "what is left of the solvent is out"
    return May("wax", "Wax it", "without silicone, thinly", waits.at(90 if kind in SOFT else 60), never, why)


_JET = "an arm's length off, never at edges, seams and chips"
_ROWS: tuple[Callable[[str, _Waits], May], ...] = (
    lambda _, w: May("handle", "Touch it, lean on it", "with clean hands", w.handle, why="dry to handle"),
    lambda _, w: May("rain", "Rain and dew", "dab it off, never rub", w.handle, why="dry to handle"),
    lambda _, w: May("sun", "Leave it in the hot sun", "never under a cover that sweats", w.cured, why="cured"),
    _wash,
    lambda _, w: May("jet", "Wash it with a jet", _JET, w.at(30), why="cured, and a month"),
    _polish,
    _wax,
)


def together(rows: tuple[tuple[May, ...], ...]) -> tuple[May, ...]:
    """What may be done with a whole piece: of each act the face that is last of those on which it is ever done."""
    worst: dict[str, May] = {}
    for may in (may for each in rows for may in each):
        was = worst.get(may.key)
        if was is None or (was.never and not may.never) or (was.never == may.never and _turn(may) > _turn(was)):
            worst[may.key] = may
    return tuple(sorted(worst.values(), key=_turn))


def _turn(may: May) -> tuple[bool, bool, float]:
    return may.never, may.from_s is None, may.from_s or 0.0
