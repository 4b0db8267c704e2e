"""Did this system hold here? Faces looked at after years, counted by system, preparation, place and age."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import sqrt

FEW = 10
"""Under so many cases the evidence is little."""
Z = 1.959963984540054
"""Standard normal deviate of 95 % both ways."""
GOOD, BAD = 0.75, 0.5
"""The least of the interval that is told as good, and the most that is told as bad. Ours, no source."""
VERDICTS = {"same": "Same", "worse": "Worse", "failed": "Failed"}


@dataclass(frozen=True)
class Case:
    """One face looked at: the system that lies on it, how its metal was prepared, where it sits on a piece, how old it
    was [years], what was said ("same", "worse", "failed"); about: what leads to it.
    """

    system: str
    prepared: str
    place: str
    years: float
    verdict: str
    about: object = None

    @property
    def held(self) -> bool:
        """True if it held: it may have aged, it has not failed."""
        return self.verdict != "failed"


@dataclass(frozen=True)
class Held:
    """How many of some cases held, over how many years, with the cases behind it."""

    cases: tuple[Case, ...]

    @property
    def held(self) -> int:
        """How many held."""
        return sum(case.held for case in self.cases)

    @property
    def of(self) -> int:
        """How many there are."""
        return len(self.cases)

    @property
    def years(self) -> float:
        """Their mean age [years]."""
        return sum(case.years for case in self.cases) / len(self.cases) if self.cases else 0.0

    @property
    def interval(self) -> tuple[float, float]:
        """Between which shares the true one lies, 95 % of the time."""
        return wilson(self.held, self.of)

    @property
    def word(self) -> str:
        """What the cases are worth as evidence: little, good, bad, or neither."""
        if self.of < FEW:
            return "little evidence"
        low, high = self.interval
        return "it holds" if low >= GOOD else "it often fails" if high <= BAD else "it may go either way"

    @property
    def sentence(self) -> str:
        """It in a line: "held 6 of 7, over 4 years, little evidence"."""
        if not self.cases:
            return "nobody has looked again yet"
        whole = round(self.years)
        years = f"{whole} year{'s' if whole != 1 else ''}" if whole else "less than a year"
        return f"held {self.held} of {self.of}, over {years}: {self.word}"


def wilson(held: int, of: int) -> tuple[float, float]:
    """Wilson's interval of a share at 95 %, without correction; (0, 1) of nothing. Raises ValueError for an impossible
    count.

    Source: Wilson 1927, J. Am. Stat. Assoc. 22, 209 (from memory); tests hold it against scipy.
    """
    if not 0 <= held <= of:
        raise ValueError("held must be from 0 to all")
    if of == 0:
        return 0.0, 1.0
    p, z2 = held / of, Z * Z
    middle = (p + z2 / (2 * of)) / (1 + z2 / of)
    half = Z / (1 + z2 / of) * sqrt(p * (1 - p) / of + z2 / (4 * of * of))
    return (0.0 if held == 0 else middle - half), (1.0 if held == of else middle + half)


def like(
    cases: Iterable[Case],
    system: str = "",
    prepared: str = "",
    place: str = "",
    years: tuple[float, float] | None = None,
) -> Held:
    """The cases of a system, a preparation, a place and an age (from, below) [years]; what is empty is not asked."""
    wanted = {"system": system, "prepared": prepared, "place": place}
    rows = [
        case
        for case in cases
        if all(not value or getattr(case, name) == value for name, value in wanted.items())
        and (years is None or years[0] <= case.years < years[1])
    ]
    return Held(tuple(rows))


AGES = ((0.0, 2.0), (2.0, 5.0), (5.0, 200.0))
"""Ages that are told apart [years]."""


def by(cases: Sequence[Case], name: str) -> dict[str, Held]:
    """The cases by a column of theirs ("system", "prepared", "place"), most of them first."""
    groups: dict[str, list[Case]] = {}
    for case in cases:
        groups.setdefault(getattr(case, name), []).append(case)
    return {key: Held(tuple(rows)) for key, rows in sorted(groups.items(), key=lambda each: (-len(each[1]), each[0]))}
