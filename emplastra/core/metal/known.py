"""What is known of a zone's metal, as ways of working and rules look at it."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..surface.names import StepKind
from ..survey.answers import Answer

MAX_PIT_SHARE = 0.3
"""Pits deeper than this share of the metal count as a change of shape on a part under load."""


@dataclass(frozen=True)
class Metal:
    """What is known of a zone's metal, in plain values.

    answers: {(topic, mark): Answer} that hold; open_findings: (topic, mark) still open; bare: (hours
    bare, share) of each portion; stripped: bared whole, so that old layers are gone; under: {what lies there:
    share} with "bare" among them; next_step,
    next_product: kinds of the first undone step and of its product; weld_unseen: welded, and not looked through since;
    weld_faults: points of the inspection with a fault.
    """

    name: str = "zone"
    substrate: str = "steel"
    thickness_mm: float = 1.0
    part: str = "skin"
    form: str = "flat"
    finish: str = "show"
    end_state: str = "coated"
    answers: Mapping[tuple[str, str], Answer] = field(default_factory=dict)
    open_findings: frozenset[tuple[str, str]] = frozenset()
    bare: tuple[tuple[float, float], ...] = ()
    bare_overdue_h: float | None = None
    no_flash_rust: bool | None = None
    stripped: bool = False
    stripped_by: str = ""
    keyed: bool = False
    acid_prepped: bool = False
    degreased: bool = False
    under: Mapping[str, float] = field(default_factory=dict)
    next_step: str = ""
    next_product: str = ""
    first_coat: str = ""
    coated: bool = False
    welded: bool = False
    weld_unseen: bool = False
    weld_faults: tuple[str, ...] = ()
    closed: bool = False
    trial_fit: bool = False
    away: bool = False
    unseen_share: float = 0.0
    boxed: bool = False

    def choice(self, topic: str, mark: str = "") -> str:
        """The choice made of a topic, "" if none."""
        found = self.answers.get((topic, mark))
        return found.choice if found else ""

    def rows(self, topic: str) -> list[Answer]:
        """Answers of a topic that has several rows, in order."""
        return [a for (t, _), a in sorted(self.answers.items()) if t == topic]

    @property
    def duty(self) -> str:
        """Load, brake or pressure, "" for none."""
        return {"no": ""}.get(self.choice("duty"), self.choice("duty"))

    @property
    def shape_changed(self) -> bool:
        """True if it is thin, holed, cracked, or deeply pitted."""
        pits = self.answers.get(("pits", ""))
        deep = pits is not None and pits.values.get("depth", 0.0) > MAX_PIT_SHARE * self.thickness_mm
        cracked = any(a.choice in {"crack", "hole"} for a in self.rows("more"))
        return self.choice("thin") == "thin" or self.choice("holes") in {"pinholes", "holes"} or deep or cracked

    @property
    def is_coat_next(self) -> bool:
        """True if a coat comes next."""
        return bool(self.next_product) and self.next_step not in {StepKind.DEGREASE, StepKind.CLEAN, StepKind.ACID_PREP}

    @property
    def is_covered_next(self) -> bool:
        """True if a coat, filler or a closing comes next, or a strip that a weld burnt is to be primed."""
        return (
            self.is_coat_next or self.next_step in {StepKind.CLOSE, StepKind.FILL} or (self.welded and bool(self.bare))
        )
