"""Pots for a round of faces: how many equal ones, when each is begun, ready, empty and dead.

A pot lives from the first hardener, taken to be its begin; its induction runs from when the last part is in. Both run
at the temperature of the air where it stands. It is put on at an even pace, and the next is begun so that it is ready
as this one empties.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field

from ..air.journey import Journey
from ..product.mixing import equal_pots, life_share
from ..product.sheet import Sheet
from ..surface.integral import crossing
from ..words import hour_q, lasting, volume_q
from ..working import Basis, Given, Line, Working

SMALLEST_ML = 100.0
"""The least that can sensibly be measured and stirred [mL]. Common practice, no source."""
MOST_POTS = 200
SAME_S = 1.0


@dataclass(frozen=True)
class Round:
    """Once round all faces: paint that goes at them [mL], how long it takes [s], when mixing may begin [epoch s], and
    before when nothing is to be put on; vessel_ml: what a pot holds at most (None: any); smallest_ml: the least that is
    mixed; pour_s: to pour and stir one pot; loss_ml: what of each pot stays in gun or brush.
    """

    volume_ml: float
    lasts_s: float
    begin_s: float
    not_before_s: float | None = None
    vessel_ml: float | None = None
    smallest_ml: float = SMALLEST_ML
    pour_s: float = 600.0
    loss_ml: float = 0.0


@dataclass(frozen=True)
class PotDue:
    """A pot to come: begun, ready, put on from, empty, dead (None: no life is told, or it never comes) [epoch s], with
    so much in it, of which so much is put on [mL].
    """

    begin_s: float
    ready_s: float
    from_s: float
    empty_s: float
    dead_s: float | None
    ml: float
    used_ml: float

    @property
    def spare_s(self) -> float:
        """How long it would be good after it is empty [s]; below 0 it dies before."""
        return math.inf if self.dead_s is None else self.dead_s - self.empty_s

    @property
    def dead_ml(self) -> float:
        """What is still in it when it dies [mL]."""
        if self.dead_s is None or self.dead_s >= self.empty_s:
            return 0.0
        if self.dead_s <= self.from_s:
            return self.used_ml
        return self.used_ml * (self.empty_s - self.dead_s) / (self.empty_s - self.from_s)


@dataclass(frozen=True)
class PotsPlan:
    """Equal pots for a round. binds: what made them so many ("life", "vessel", ""); lasts: True if none dies before it
    is empty; surplus_ml: mixed and not wanted [mL].
    """

    pots: tuple[PotDue, ...]
    surplus_ml: float
    binds: str
    lasts: bool
    working: Working = field(repr=False)

    @property
    def count(self) -> int:
        """How many."""
        return len(self.pots)

    @property
    def each_ml(self) -> float:
        """What each holds [mL]."""
        return self.pots[0].ml

    @property
    def sentence(self) -> str:
        """Whether they last until the round is done, and what to do where they do not."""
        last, least = self.pots[-1], min(self.pots, key=lambda pot: pot.spare_s)
        if last.empty_s == math.inf:
            return "It is too cold: its induction stands still."
        if self.lasts:
            spare = "" if least.spare_s == math.inf else f", with {lasting(least.spare_s / 60)} to spare"
            return f"You are round at {hour_q(last.empty_s)}{spare}."
        if any(pot.dead_s is not None and pot.dead_s <= pot.ready_s for pot in self.pots):
            return "It is dead before its induction is over: wait for cooler air, or take another hardener."
        lost = volume_q(sum(pot.dead_ml for pot in self.pots))
        return (
            f"{lost} die before you are round, and smaller pots cannot be mixed sensibly: be quicker, two of you, or "
            "in cooler air."
        )


def plan_pots(where: Journey, sheet: Sheet, asked: Round) -> PotsPlan:
    """The fewest equal pots of a mix that are put on before they die, in the air of a place (its Journey.of_air).

    Below the smallest mix it is one smallest mix. Where no number of pots lasts, as many as can sensibly be mixed.
    Raises ValueError for volumes or times that are not above 0.
    """
    if asked.lasts_s <= 0 or asked.smallest_ml <= 0:
        raise ValueError("the round and the smallest mix must be above 0")
    room = (asked.vessel_ml or math.inf) - asked.loss_ml
    if room <= 0:
        raise ValueError("the vessel must hold more than stays in gun or brush")
    fewest = equal_pots(asked.volume_ml, min(room, asked.volume_ml)).count
    most = max(fewest, min(MOST_POTS, int(asked.volume_ml / asked.smallest_ml + 1e-9)))
    count, pots = fewest, tuple(_in_turn(where, sheet, asked, fewest))
    while not _last(pots) and count < most:
        count += 1
        pots = tuple(_in_turn(where, sheet, asked, count))
    binds = "life" if count > fewest else "vessel" if fewest > 1 else ""
    surplus = sum(pot.ml - pot.used_ml for pot in pots)
    return PotsPlan(pots, surplus, binds, _last(pots), _working(asked, pots, binds))


def _last(pots: tuple[PotDue, ...]) -> bool:
    return all(pot.spare_s >= -SAME_S for pot in pots)


def _in_turn(where: Journey, sheet: Sheet, asked: Round, count: int) -> Iterator[PotDue]:
    """So many equal pots, one after another."""
    used = asked.volume_ml / count + asked.loss_ml
    ml = max(used, min(asked.smallest_ml, asked.vessel_ml or math.inf))
    share = life_share(ml, sheet.pot_life_ml)
    free_s = asked.begin_s if asked.not_before_s is None else max(asked.begin_s, asked.not_before_s)
    for n in range(count):
        wanted = n > 0 or asked.not_before_s is not None
        begin_s = _begin(where, sheet, asked, free_s) if wanted else asked.begin_s
        ready_s = _ready(where, sheet, asked, begin_s)
        from_s = max(ready_s, free_s)
        dead_s = crossing(where, sheet.pot_life, begin_s, share).t_s if sheet.pot_life else None
        free_s = from_s + asked.lasts_s / count
        yield PotDue(begin_s, ready_s, from_s, free_s, dead_s, ml, used)


def _ready(where: Journey, sheet: Sheet, asked: Round, begin_s: float) -> float:
    """When a pot is ready that is begun so [epoch s]; one whose induction stands still is never."""
    in_s = begin_s + asked.pour_s
    if not sheet.induction:
        return in_s
    over_s = crossing(where, sheet.induction, in_s).t_s
    return math.inf if over_s is None else over_s


def _begin(where: Journey, sheet: Sheet, asked: Round, ready_s: float) -> float:
    """When to begin a pot so that it is ready then [epoch s]; not before mixing may begin."""
    if _ready(where, sheet, asked, asked.begin_s) >= ready_s:
        return asked.begin_s
    low, high = asked.begin_s, ready_s
    while high - low > 0.001:
        middle = (low + high) / 2
        if _ready(where, sheet, asked, middle) <= ready_s:
            low = middle
        else:
            high = middle
    return high


def _working(asked: Round, pots: tuple[PotDue, ...], binds: str) -> Working:
    given = (
        Given("at the faces", round(asked.volume_ml, 1), "mL", Basis.COMPUTED, "all of the round"),
        *(
            (Given("stays in gun or brush", asked.loss_ml, "mL", Basis.ASSUMED, "of each pot"),)
            if asked.loss_ml
            else ()
        ),
        Given("once round", round(asked.lasts_s / 60, 1), "min", Basis.ASSUMED, "as told, else 6 min/m²"),
        Given("to pour and stir", round(asked.pour_s / 60, 1), "min", Basis.ASSUMED),
        *((Given("a pot holds", asked.vessel_ml, "mL", Basis.ASSUMED),) if asked.vessel_ml else ()),
    )
    lines = [Line(f"pot {n}", _told(pot), round(pot.ml, 1), "mL") for n, pot in enumerate(pots, 1)]
    why = {"life": "so many because of the pot life", "vessel": "so many because of the vessel", "": "one is enough"}
    note = why[binds]
    if len(pots) > 1:
        note += f"; begun {lasting((pots[1].begin_s - pots[0].begin_s) / 60)} apart"
    return Working(f"{len(pots)} of {volume_q(pots[0].ml)}: {note}", given, tuple(lines))


def _told(pot: PotDue) -> str:
    if pot.empty_s == math.inf:
        return f"begun {hour_q(pot.begin_s)}, never ready"
    return f"begun {hour_q(pot.begin_s)}, put on {hour_q(pot.from_s)} to {hour_q(pot.empty_s)}"
