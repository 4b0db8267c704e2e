"""An act, its face and each subject on it as rules see them: what a rule reads is noted."""

from collections.abc import Mapping
from dataclasses import dataclass

from ..product.abrasives import GritError, grain_um
from .face import LEAVES_RUST, FindingFact, TinFact
from .facts import Notes, View, graded, reads
from .seen_act import SeenAct
from .seen_face import SeenFace
from .seen_ground import SeenGround, sheet_says


class SeenFinding(View):
    """A finding that stands open on the face."""

    of = "finding."

    def __init__(self, notes: Notes, raw: FindingFact) -> None:
        super().__init__(notes)
        self.raw = raw

    @reads
    def topic(self) -> str:
        """What it is about."""
        return self.raw.topic

    @reads
    def choice(self) -> str:
        """What was found."""
        return self.raw.choice

    @graded(+1, 0.0)
    def count(self) -> float:
        """How many there are."""
        return self.raw.values.get("count", 1.0)

    @graded(+1, 0.5)
    def mm(self) -> float:
        """How large the largest is [mm]."""
        return self.raw.values.get("mm", 0.0)

    @graded(+1, 5.0)
    def rise(self) -> float:
        """Rise of conductivity [µS/cm]."""
        return self.raw.values.get("rise", 0.0)

    @property
    def sentence(self) -> str:
        """It in words."""
        return self.raw.sentence


class SeenTin(View):
    """A tin or can that was used."""

    of = "tin."

    def __init__(self, notes: Notes, raw: TinFact) -> None:
        super().__init__(notes)
        self.raw = raw

    @reads
    def recalled(self) -> str:
        """Why its batch is recalled, "" where it is not."""
        return self.raw.recalled

    @graded(+1, 14.0)
    def past_days(self) -> int:
        """Days past its last."""
        return (self.raw.on - self.raw.use_by).days if self.raw.use_by else 0


@dataclass
class Case:
    """What a rule looks at: the act, its face, and one subject of the kind that it asked for."""

    notes: Notes
    act: SeenAct
    face: SeenFace
    schools: Mapping[str, str]
    ground: SeenGround | None = None
    finding: SeenFinding | None = None
    tin: SeenTin | None = None

    def school(self, question: str) -> str:
        """How a question of the trade is answered here; noted."""
        answer = self.schools[question]
        self.notes[f"school.{question}"] = (answer, 0, 0.0)
        return answer

    @property
    def on_ground(self) -> SeenGround:
        """The ground, for rules that look at one."""
        assert self.ground is not None
        return self.ground

    @property
    def of_finding(self) -> SeenFinding:
        """The finding, for rules that look at one."""
        assert self.finding is not None
        return self.finding

    @property
    def of_tin(self) -> SeenTin:
        """The tin, for rules that look at one."""
        assert self.tin is not None
        return self.tin


def is_grit(text: str) -> bool:
    """True for a grade."""
    try:
        grain_um(text)
    except GritError:
        return False
    return True


__all__ = [
    "LEAVES_RUST",
    "Case",
    "SeenAct",
    "SeenFace",
    "SeenFinding",
    "SeenGround",
    "SeenTin",
    "is_grit",
    "sheet_says",
]
