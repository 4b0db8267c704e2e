"""How bad a coat is after years, by the names of ISO 4628: its parts, quantities and sizes.

From memory, medium to high: -1 quantity and size 0 to 5, -2 blistering, -3 rusting Ri 0 to Ri 5 with its share of the
area, -4 cracking, -5 flaking with its share, -6 chalking.
"""

from dataclasses import dataclass

from ..survey.topics import DENSITY, SIZES

RUST_PCT = {0: 0.0, 1: 0.05, 2: 0.5, 3: 1.0, 4: 8.0, 5: 45.0}
"""ISO 4628-3: degree Ri -> rusted share of the area [%]; 5 is 40 to 50. From memory."""
FLAKE_PCT = {0: 0.0, 1: 0.1, 2: 0.3, 3: 1.0, 4: 3.0, 5: 15.0}
"""ISO 4628-5: quantity -> flaked share of the area [%]; 5 is over 15. From memory."""


@dataclass(frozen=True)
class Kind:
    """A kind of failure: its name, its part of ISO 4628, its letter in the grade, and whether a size goes with it."""

    name: str
    part: str
    sized: bool = True


KINDS: dict[str, Kind] = {
    "blisters": Kind("Blistering", "2"),
    "rust": Kind("Rusting", "3"),
    "cracks": Kind("Cracking", "4"),
    "flakes": Kind("Flaking", "5"),
    "chalks": Kind("Chalking", "6", False),
}
FAILED_FROM = {"blisters": 4, "rust": 3, "cracks": 4, "flakes": 3, "chalks": 5}
"""Quantity from which a face has failed, not only aged. Common practice, no source; maintenance is usually planned at
Ri 3."""


@dataclass(frozen=True)
class Seen:
    """What is seen of one kind: quantity 0 to 5, size 1 to 5 (0: not told), where."""

    kind: str
    quantity: int
    size: int = 0
    where: str = ""

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise ValueError(f"kind must be one of {', '.join(KINDS)}")
        if not 0 <= self.quantity <= 5 or not 0 <= self.size <= 5:
            raise ValueError("quantity and size go from 0 to 5")

    @property
    def grade(self) -> str:
        """It as ISO 4628 writes it: "Ri 2 (S3)", "blistering 2 (S3)"."""
        name = f"Ri {self.quantity}" if self.kind == "rust" else f"{KINDS[self.kind].name.lower()} {self.quantity}"
        return f"{name} (S{self.size})" if self.size and KINDS[self.kind].sized else name

    @property
    def sentence(self) -> str:
        """It in words."""
        share = {"rust": RUST_PCT, "flakes": FLAKE_PCT}.get(self.kind, {}).get(self.quantity)
        much = f"about {share:g} % of it" if share else DENSITY[str(self.quantity)]
        size = f", {SIZES[self.size]}" if self.size and KINDS[self.kind].sized else ""
        return f"{self.grade}: {much}{size}{f'; {self.where}' if self.where else ''}"

    @property
    def failed(self) -> bool:
        """True if so much of it is a failure."""
        return self.quantity >= FAILED_FROM[self.kind]
