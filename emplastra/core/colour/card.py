"""A spray-out card: the colour by number of mid-coats beside a sample; which is chosen, how far film may stray."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from ..errors import FieldError
from .hiding import DARKEST, Paint, inside, ks_ratio, outside, reflectance
from .lab import Lab, Light, difference, lab_of, light_of

COATS_MOST = 20
ROWS_MOST = 200
LIMIT = 1.0
"""How far two faces may differ where nobody says otherwise: about what an eye sees side by side. Common practice."""
STEP = 0.02
"""Steps of a coat in which a tolerance is looked for."""
_SAMPLE = frozenset({"sample", "target", "standard", "neighbour"})


@dataclass(frozen=True)
class Card:
    """Colours by number of mid-coats, the fewest first; sample: what is to be matched, None for none."""

    patches: tuple[tuple[int, Lab], ...]
    sample: Lab | None = None

    def lab_at(self, coats: float) -> Lab:
        """The colour at a number of coats, in between by its neighbours; at the ends that of the last patch."""
        numbers = [n for n, _ in self.patches]
        if coats <= numbers[0]:
            return self.patches[0][1]
        for (n, one), (m, other) in zip(self.patches, self.patches[1:], strict=False):
            if coats <= m:
                return one.toward(other, (coats - n) / (m - n))
        return self.patches[-1][1]

    @cached_property
    def differences(self) -> tuple[tuple[int, float], ...]:
        """(number of coats, how far it is from the sample); none without a sample."""
        return tuple((n, difference(lab, self.sample)) for n, lab in self.patches) if self.sample else ()

    @property
    def nearest(self) -> int | None:
        """The number that is nearest to the sample, the fewer of equals; None without a sample."""
        return min(self.differences, key=lambda row: (round(row[1], 3), row[0]))[0] if self.differences else None

    def off(self, coats: int) -> float | None:
        """How far a number of coats is from the sample, None without one."""
        return difference(self.lab_at(coats), self.sample) if self.sample else None

    def apart(self, one: float, other: float) -> float:
        """How far two faces with so many coats each look apart."""
        return difference(self.lab_at(one), self.lab_at(other))

    def reaches(self, coats: float) -> bool:
        """True if a number of coats lies between its fewest and its most."""
        return self.patches[0][0] <= coats <= self.patches[-1][0]

    def strays(self, coats: int, limit: float) -> tuple[float, float] | None:
        """(fewest, most) coats by film that still look the same as the chosen number within a limit.

        Held beside the sample where the chosen number is within the limit of it, else beside the chosen patch; None
        where the card does not reach it.
        """
        if not self.reaches(coats):
            return None
        first, last = self.patches[0][0], self.patches[-1][0]
        off = self.off(coats)
        beside = self.sample if self.sample is not None and off is not None and off <= limit else self.lab_at(coats)
        return self._until(coats, -STEP, first, beside, limit), self._until(coats, STEP, last, beside, limit)

    def _until(self, coats: int, step: float, end: int, beside: Lab, limit: float) -> float:
        at = float(coats)
        while (end - at) * step > 1e-9 and difference(self.lab_at(at + step), beside) <= limit:
            at += step
        return at


def film_range(strays: tuple[float, float], coats: int, coat_um: float) -> tuple[float, float]:
    """The film of a coat [µm] between which so many coats look the same: coats within the limit × film ÷ coats."""
    return strays[0] * coat_um / coats, strays[1] * coat_um / coats


def read(text: str) -> Card:
    """A card as it is typed, or as an instrument's table has it: a line a reading, its number of coats, L, a, b.

    "sample" in place of the number is what is to be matched; several readings of one number are averaged. A head names
    the columns in any order, others are passed over. Raises FieldError saying which line, and what would do.
    """
    rows = [row for row in (line.strip() for line in text.splitlines()) if row]
    if not rows:
        raise FieldError("card", "write a line for each number of mid-coats: its number, L, a, b")
    if len(rows) > ROWS_MOST:
        raise FieldError("card", f"at most {ROWS_MOST} lines")
    places, rows = _head(rows)
    told: dict[str, list[Lab]] = {}
    for number, row in enumerate(rows, 1):
        name, lab = _reading(number, row, places)
        told.setdefault(name, []).append(lab)
    sample = told.pop("sample", None)
    patches = tuple((int(n), _mean(labs)) for n, labs in sorted(told.items(), key=lambda each: int(each[0])))
    if len(patches) < 2:
        raise FieldError("card", "a card has at least two numbers of mid-coats: spray one more patch")
    return Card(patches, _mean(sample) if sample else None)


def _cells(row: str) -> list[str]:
    """A line in its cells: by tab or semicolon where it has one, by comma where all are apart so, else by space."""
    for mark in ("\t", ";"):
        if mark in row:
            return [cell.strip() for cell in row.split(mark)]
    cells = [cell.strip() for cell in row.split(",")]
    if len(cells) >= 4 and not any(" " in cell for cell in cells[1:]):
        return cells
    return [cell.strip(",") for cell in row.split()]


def _head(rows: list[str]) -> tuple[tuple[int, int, int, int], list[str]]:
    """(the columns of number, L, a and b; the rows without their head)."""
    names = [re.sub(r"[^a-z]", "", cell.lower()) for cell in _cells(rows[0])]
    if not {"l", "a", "b"} <= set(names):
        return (0, 1, 2, 3), rows
    first = next(
        (i for i, name in enumerate(names) if name in {"coats", "number", "n", "name", "midcoats", "patch"}), 0
    )
    return (first, names.index("l"), names.index("a"), names.index("b")), rows[1:]


def _reading(number: int, row: str, places: tuple[int, int, int, int]) -> tuple[str, Lab]:
    """(its number of coats or "sample", the colour) of a line."""
    cells, wanted = _cells(row), f"line {number}: write a number of coats, L, a, b, as in 4 38.2 46.1 28.0"
    if len(cells) <= max(places):
        raise FieldError("card", wanted)
    name, *figures = (cells[i] for i in places)
    try:
        values = [float(cell.replace(",", ".").replace("−", "-")) for cell in figures]
    except ValueError:
        raise FieldError("card", wanted) from None
    if not all(math.isfinite(value) for value in values):
        raise FieldError("card", wanted)
    lab = Lab(*values)
    try:
        lab.check("card")
    except FieldError as error:
        raise FieldError("card", f"line {number}: {error}") from None
    if name.lower().rstrip(":") in _SAMPLE:
        return "sample", lab
    found = re.search(r"\d+", name)
    if found is None or not 1 <= int(found[0]) <= COATS_MOST:
        raise FieldError("card", f"line {number}: a number of coats is from 1 to {COATS_MOST}, or say sample")
    return str(int(found[0])), lab


def _mean(labs: Sequence[Lab]) -> Lab:
    return Lab(*(sum(x) / len(labs) for x in zip(*(lab.coordinates for lab in labs), strict=True)))


def mid_of(name: str, card: Card, ground: Light, coat_um: float) -> Paint:
    """The mid-coat as its card draws it over a ground, in a film a coat [µm].

    In each band the depth that fits its patches best; one scattering for all three. An estimate.
    """
    patches = [(n, light_of(lab)) for n, lab in card.patches]
    found = []
    for s in (10 ** (k / 12) / 1000 for k in range(-6, 37)):
        bands, wrong = [], 0.0
        for band in range(3):
            under = inside(max(DARKEST, ground[band]))
            seen = [(n, max(DARKEST, light[band])) for n, light in patches]
            ks, off = _depth(under, seen, s * coat_um)
            bands.append(ks)
            wrong += off
        found.append((wrong, Paint(name, (bands[0], bands[1], bands[2]), s)))
    return min(found, key=lambda each: each[0])[1]


def _depth(under: float, seen: Sequence[tuple[int, float]], sx: float) -> tuple[float, float]:
    """(K/S, the squares it misses by) that draws these patches best, each scattering S·X a coat."""

    def misses(full: float) -> float:
        ks = ks_ratio(full)
        return sum((outside(reflectance(ks, n * sx, under)) - light) ** 2 / light for n, light in seen)

    found = min((misses(x), x) for x in (0.001 * 1.12**k for k in range(62)) if x < 0.98)
    return ks_ratio(found[1]), found[0]


def instead(
    mid: Paint, chosen: int, coat_um: float, grounds: Sequence[tuple[str, Light]], card: Card
) -> list[tuple[str, Lab, float]]:
    """[(undertone, the colour, how far it is from the card's)] of the chosen mid-coats over other grounds; coat_um:
    film of one [µm].
    """
    found = []
    for name, ground in grounds:
        lab = lab_of(mid.over(ground, chosen * coat_um))
        found.append((name, lab, difference(lab, card.lab_at(chosen))))
    return found
