"""A list of steps tried on faces that stand for many: where it fits, before any zone is chosen.

Each face is surveyed with nothing to say, so that all that is said is of the steps. Common practice, no source.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..product.sheet import Sheet
from ..surface.fold import build
from ..surface.names import StepKind
from ..surface.plan import PlanStep, StepState, progress_of
from ..surface.steps import STEPS
from .face import Face, FindingFact
from .judge import Ruling, judge
from .registry import SEVERITIES, Verdict
from .rehearsal import rehearse

SOUND = {"holes": "none", "pits": "none", "thin": "full", "wax": "no", "salts": "none", "duty": "no", "rust": "none"}
"""What a survey says of a face with nothing wrong."""


@dataclass(frozen=True)
class Ground:
    """A face that stands for many: its name, substrate, thickness [mm], and whether tight rust stays on it."""

    key: str
    name: str
    substrate: str
    thickness_mm: float = 1.0
    rust: bool = False


GROUNDS = (
    Ground("steel", "Bright steel", "steel"),
    Ground("rust", "Steel, tight rust left", "steel", 2.0, True),
    Ground("cast-iron", "Cast iron", "cast iron", 10.0),
    Ground("aluminium", "Aluminium", "aluminium", 2.0),
    Ground("zinc", "Galvanised steel", "zinc"),
    Ground("stainless", "Stainless steel", "stainless"),
    Ground("laminate", "Laminate", "laminate", 4.0),
    Ground("old-film", "Sound old film", "old film"),
)


def ground_named(key: str) -> Ground:
    """The face of a key, the first where there is none of it."""
    return next((each for each in GROUNDS if each.key == key), GROUNDS[0])


def face_of(
    ground: Ground, finish: str = "show", part: str = "skin", form: str = "flat", most_um: float | None = None
) -> Face:
    """A face of a ground with nothing wrong on it; most_um: the most that its system allows [µm]."""
    told = SOUND | ({"rust": "C"} if ground.rust else {})
    if ground.substrate != "old film":
        told = told | {"layer_1": "none"}
    facts = {}
    for name, choice in told.items():
        topic, _, mark = name.partition("_")
        facts[topic, mark] = FindingFact(topic, mark, choice)
    return Face(
        0.0,
        ground.name,
        ground.substrate,
        ground.thickness_mm,
        part,
        form,
        finish,
        surface=build([], 0.0),
        told=facts,
        findings=tuple(f for f in facts.values() if f.topic == "rust" and f.choice == "C"),
        most_um=most_um,
    )


def try_on(
    steps: Sequence[PlanStep], sheets: Mapping[str, Sheet], face: Face, schools: Mapping[str, str] | None = None
) -> list[tuple[StepState, Ruling]]:
    """What is said of each step on a face, each thing once; sheets: by product name."""
    due = any(step.kind == StepKind.STRIP and not step.left_out for step in steps)
    said, found = set[tuple[str, str]](), []
    for at, act, met in rehearse(replace(face, strip_due=due), progress_of(steps, [], face.t_s), sheets, ""):
        ruling = judge(act, met, schools)
        again = {id(v) for v in ruling.verdicts if (v.rule, v.sentence) in said}
        said |= {(v.rule, v.sentence) for v in ruling.verdicts}
        found.append((at, ruling.without(_are(again))))
    return found


def _are(gone: set[int]):  # type: ignore[no-untyped-def]
    return lambda verdict: id(verdict) in gone


@dataclass(frozen=True)
class Fit:
    """How steps do on a ground: the gravest word, and the first things that are said, with the step they are of."""

    ground: Ground
    word: str
    said: tuple[tuple[PlanStep, Verdict], ...]
    unjudged: tuple[str, ...] = ()


def where_it_fits(
    steps: Sequence[PlanStep],
    sheets: Mapping[str, Sheet],
    schools: Mapping[str, str] | None = None,
    finish: str = "show",
    part: str = "skin",
) -> list[Fit]:
    """How a list of steps does on each of the grounds."""
    return [fit_on(steps, sheets, ground, schools, finish, part) for ground in GROUNDS]


def fit_on(
    steps: Sequence[PlanStep],
    sheets: Mapping[str, Sheet],
    ground: Ground,
    schools: Mapping[str, str] | None = None,
    finish: str = "show",
    part: str = "skin",
    most_um: float | None = None,
) -> Fit:
    """How steps do on one ground; most_um: the most that all layers may come to [µm]."""
    tried = try_on(steps, sheets, face_of(ground, finish, part, most_um=most_um), schools)
    said = [(at.step, v) for at, ruling in tried for v in ruling.verdicts]
    said.sort(key=lambda each: SEVERITIES.index(each[1].severity))
    missing = [why for at, r in tried for why in r.missing.values() if STEPS[at.step.kind].leaves_film]
    word = said[0][1].severity if said else "not judged" if missing else "clean"
    return Fit(ground, word, tuple(said), tuple(dict.fromkeys(missing)))
