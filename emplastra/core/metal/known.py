"""What is known of a zone's metal, as ways to bare it look at it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Protocol


class Stated(Protocol):
    """Something that was told of a zone: the choice made, its words."""

    @property
    def choice(self) -> str:
        """The choice made."""

    @property
    def text(self) -> str:
        """Words of their own."""

    @property
    def sentence(self) -> str:
        """It in words."""


@dataclass(frozen=True)
class Metal:
    """What is known of a zone's metal, in plain values, as ways to bare it are weighed.

    answers: {(topic, mark): what is told} that holds; stripped: bared whole, so that old layers are gone; next_step:
    kind of the first undone step; first_coat: kind of the first product that is planned; unseen_share: that nobody saw.
    """

    name: str = "zone"
    substrate: str = "steel"
    thickness_mm: float = 1.0
    part: str = "skin"
    form: str = "flat"
    finish: str = "show"
    end_state: str = "coated"
    answers: Mapping[tuple[str, str], Stated] = field(default_factory=dict)
    stripped: bool = False
    next_step: str = ""
    first_coat: str = ""
    unseen_share: float = 0.0
    boxed: bool = False

    def choice(self, topic: str, mark: str = "") -> str:
        """The choice made of a topic, "" if none."""
        found = self.answers.get((topic, mark))
        return found.choice if found else ""

    def rows(self, topic: str) -> list[Stated]:
        """Answers of a topic that has several rows, in order."""
        return [a for (t, _), a in sorted(self.answers.items()) if t == topic]
