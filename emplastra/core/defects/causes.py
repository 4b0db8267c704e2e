"""What may have made a fault, scored by what the record says of the coat.

Each cause has signs. A sign that the record shows speaks for it, one that was looked at and is not there speaks
against it; what nobody told says nothing. No score decides: the test does.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from importlib import resources

import yaml

from ..product.abrasives import GRAIN_UM

FOR, AGAINST = 2, -1
"""What a sign that is there, and one that is not, add to a score. Ours, no source."""
WORDS = ("likely", "possible", "unlikely")
LIKELY = 3
"""From this score a cause is likely, if a sign speaks for it."""


class Says(StrEnum):
    """What the record says of a sign."""

    SHOWS = "shows it"
    NOT = "speaks against it"
    UNTOLD = "not told"


@dataclass(frozen=True)
class Sign:
    """A sign as the record has it, with its words ("wet film 140 µm, it runs from 90")."""

    says: Says
    words: str = ""


SIGNS = {
    "wet": "wet film", "thick": "film", "thin": "film", "soon": "flash before it", "late": "window", "window": "window", "cold": "cold", "hot": "heat",
    "dry": "dry air", "damp": "damp air", "dew": "dew", "much-thinner": "thinner", "little-thinner": "thinner", "wrong-thinner": "thinner", "near": "distance of the gun",
    "far": "distance of the gun", "slow": "speed of the hand", "uneven": "overlap", "unclean": "wiping", "dust": "sanding beside it", "outdoors": "place", "line": "air line",
    "under": "what lies under it", "forced": "warming", "hot-metal": "metal and air", "porous": "filler under it", "key": "key", "grit": "grit under it",
    "thick-under": "film under it", "salts": "salts", "acid": "acid", "pot": "pot", "young": "age of what lies under it", "bleeding": "dye under it",
}  # fmt: skip
"""What each sign is about, as it is named where nobody told it."""


@dataclass(frozen=True)
class Cause:
    """What may have made a fault; usual: 0 rare to 2; signs: keys of SIGNS; the test that decides; what to do then."""

    name: str
    usual: int
    signs: tuple[str, ...]
    test: str
    next_time: str


@dataclass(frozen=True)
class Fault:
    """A fault of a coat: where it sits (top, coat, under), how far it stands out or goes in [µm, assumed], what puts it
    right (polish, again, off), the time of its sheet that is waited for, the first grit for a coat, its causes.
    """

    key: str
    sits: str
    stands_um: float
    remedy: str
    waits: str
    grit: str
    causes: tuple[Cause, ...]


@dataclass(frozen=True)
class Scored:
    """A cause with its score, and of its signs those that speak for it, against it, and those that nobody told."""

    cause: Cause
    score: int
    speaks: tuple[Sign, ...]
    against: tuple[Sign, ...]
    untold: tuple[str, ...]

    @property
    def word(self) -> str:
        """How it stands: likely, possible or unlikely."""
        if self.speaks and self.score >= LIKELY:
            return "likely"
        return "unlikely" if self.against and not self.speaks else "possible"


@lru_cache(maxsize=1)
def faults() -> dict[str, Fault]:
    """All faults by key. Raises ValueError naming a row of the file that cannot be read."""
    rows = yaml.safe_load((resources.files(__package__) / "faults.yaml").read_text(encoding="utf-8"))["faults"]
    return {key: _read(key, row) for key, row in rows.items()}


def _read(key: str, row: Mapping) -> Fault:
    causes = tuple(Cause(c["name"], c["usual"], tuple(c["signs"]), c["test"], c["next"]) for c in row["causes"])
    unknown = {sign for cause in causes for sign in cause.signs} - SIGNS.keys()
    if unknown or row["grit"] not in GRAIN_UM or row["remedy"] not in {"polish", "again", "off"}:
        raise ValueError(f"faults.yaml: {key} cannot be read: {', '.join(sorted(unknown)) or row['grit']}")
    return Fault(key, row["sits"], float(row["stands_um"]), row["remedy"], row["waits"], row["grit"], causes)


def scored(fault: Fault, record: Mapping[str, Sign]) -> list[Scored]:
    """The causes of a fault by what a record says, the likeliest first; of equals the more usual."""
    found = [_scored(cause, record) for cause in fault.causes]
    return sorted(found, key=lambda each: (WORDS.index(each.word), -each.score, -each.cause.usual))


def _scored(cause: Cause, record: Mapping[str, Sign]) -> Scored:
    told = [(name, record.get(name, Sign(Says.UNTOLD))) for name in cause.signs]
    speaks = tuple(sign for _, sign in told if sign.says is Says.SHOWS)
    against = tuple(sign for _, sign in told if sign.says is Says.NOT)
    untold = tuple(dict.fromkeys(SIGNS[name] for name, sign in told if sign.says is Says.UNTOLD))
    score = cause.usual + FOR * len(speaks) + AGAINST * len(against)
    return Scored(cause, score, speaks, against, untold)
