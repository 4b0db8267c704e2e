"""A zone's build-up against what was done: which step comes next."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from . import events as happened
from .clocks import DEGREASED_S
from .events import Coated, Degreased, Event
from .fold import Toward
from .names import StepKind
from .patches import FULL
from .steps import STEPS, stage_of

_RECORDS: dict[str, type[Event]] = {
    "bared": happened.Bared,
    "degreased": happened.Degreased,
    "keyed": happened.Keyed,
    "coat": happened.Coated,
    "prepped": happened.Prepped,
    "rinsed": happened.Rinsed,
    "film-lost": happened.FilmLost,
    "away": happened.Back,  # a contractor's step is done when the piece is back
    "access": happened.Access,
    "done": happened.Done,
    "dried": happened.Done,  # logged as dried, or plainly as done
    "heated": happened.Done,
    "masked": happened.Done,  # a mask, or a plain word that it was put on
    "inspected": happened.Done,  # an inspection, or a plain word that it was done
}


METAL_WORK = frozenset(
    {
        StepKind.SURVEY,
        StepKind.UNCOVER,
        StepKind.STRIP,
        StepKind.CLEAN,
        StepKind.ACID_PREP,
        StepKind.RINSE,
        StepKind.DRY,
    }
)
"""Steps that cannot come between two coats of a layer."""


@dataclass(frozen=True)
class PlanStep:
    """A step of a build-up. Films in µm (None: not told), thinner in % of the mixed paint; `left_out` is a reason;
    least: no spot of its film may be thinner; way: of stripping (metal.strip.WAYS); on: "bare" for a coat
    on what the work before it has bared, "" for the whole. Of a part of a face: area_m2 [m2] that it is for; of edges
    and seams length_mm and width_mm [mm]; 0 where nobody told.
    """

    id: str
    kind: str
    product: str = ""
    coats: int = 1
    dft_um: float | None = None
    sanded_um: float = 0.0
    method: str = "hvlp"
    thinner_pct: float = 0.0
    grit: str = ""
    left_out: str = ""
    note: str = ""
    least: bool = False
    way: str = ""
    on: str = ""
    area_m2: float = 0.0
    length_mm: float = 0.0
    width_mm: float = 0.0

    @property
    def left_um(self) -> float | None:
        """What its coats leave once it is blocked [µm]; None where no film is planned."""
        return None if self.dft_um is None else max(0.0, self.dft_um * self.coats - self.sanded_um)

    @property
    def put_on_um(self) -> float | None:
        """What its coats put on [µm]."""
        return None if self.dft_um is None else self.dft_um * self.coats


_TEXT, _NUMBER = (str,), (int, float)
_FIELDS: dict[str, tuple[type, ...]] = {
    **dict.fromkeys(("id", "kind", "product", "method", "grit", "left_out", "note", "way", "on"), _TEXT),
    **dict.fromkeys(("sanded_um", "thinner_pct", "area_m2", "length_mm", "width_mm"), _NUMBER),
    "dft_um": (int, float, type(None)),
    "coats": (int,),
    "least": (bool,),
}


def read_steps(rows: object) -> tuple[PlanStep, ...]:
    """The steps of a plan as stored. Raises ValueError naming the step and the field that cannot be read."""
    if not isinstance(rows, list):
        raise ValueError("its steps are no list")
    return tuple(read_step(row, i) for i, row in enumerate(rows, 1))


def read_step(row: object, number: int) -> PlanStep:
    """One step as stored; number: its place in the plan. Raises ValueError naming the step and the field."""
    if not isinstance(row, dict) or not {"id", "kind"} <= row.keys():
        raise ValueError(f"step {number} has no id or kind")
    for name, value in row.items():
        if name not in _FIELDS or not isinstance(value, _FIELDS[name]) or isinstance(value, bool) != (name == "least"):
            raise ValueError(f"step {number}: {name} is {str(value)[:40]!r}, which cannot be read")
    if row["kind"] not in STEPS:
        raise ValueError(f"step {number}: there is no kind {row['kind'][:40]!r}")
    # A step that leaves no film, or one whose film nobody told, was once kept with 0.
    return PlanStep(**{**row, "dft_um": row.get("dft_um") or None})


def mids_of(steps: Sequence[PlanStep]) -> int | None:
    """Mid-coats in a plan, None where it has no colour under clear."""
    kept = [s for s in steps if not s.left_out]
    if not any(s.kind in {StepKind.MID, StepKind.CLEAR} for s in kept):
        return None
    return sum(s.coats for s in kept if s.kind == StepKind.MID)


def to_sand_um(steps: Sequence[PlanStep], i: int) -> float:
    """What a planned sanding takes [µm]: of the layer that comes last before it, once; 0 for none.

    i: its index among the steps.
    """
    for step in reversed([s for s in steps[:i] if not s.left_out]):
        if STEPS[step.kind].leaves_film:
            return step.sanded_um
        if step.kind in {StepKind.ABRADE, StepKind.BLOCK}:
            return 0.0
    return 0.0


@dataclass(frozen=True)
class Misplaced:
    """A step that would come before one that is done."""

    step: PlanStep
    done: PlanStep

    @property
    def sentence(self) -> str:
        """Why it cannot be."""
        what, over = STEPS[self.step.kind].name, STEPS[self.done.kind].name.lower()
        return f"{what} would come before {over}, which is done: what is done stays where it is"


def misplaced(before: Sequence[PlanStep], after: Sequence[PlanStep], done: Collection[str]) -> Misplaced | None:
    """The first undone step that a change puts before one that is done, as it did not stand; None if there is none.

    before, after: the steps; done: ids of those that are done.
    """
    ahead = {step.id: {later.id for later in before[i + 1 :]} & set(done) for i, step in enumerate(before)}
    for i, step in enumerate(after):
        if step.id in done:
            continue
        passed = next((x for x in after[i + 1 :] if x.id in done and x.id not in ahead.get(step.id, ())), None)
        if passed is not None:
            return Misplaced(step, passed)
    return None


@dataclass(frozen=True)
class StepState:
    """How far a step is: coats done in full, share of the next, done, and lapsed (do it again).

    anew: it came back from it bare, or coated anew, so that what was planned before on its metal is past.
    """

    step: PlanStep
    coats_done: int = 0
    share: float = 0.0
    done: bool = False
    lapsed: bool = False
    anew: bool = False


@dataclass(frozen=True)
class Progress:
    """Every step's state and the index of the first undone one, None when all is done."""

    states: tuple[StepState, ...]
    next_index: int | None

    def is_passed_over(self, i: int) -> bool:
        """True for an undone step before a layer that is on, and for metal work before one that is begun, or before the
        return from a contractor who left it bare or coated.
        """
        mine = self.states[i]
        if mine.done:
            return False
        metal, rest = mine.step.kind in METAL_WORK, self.states[i + 1 :]
        later = [s for s in rest if STEPS[s.step.kind].leaves_film and not s.step.left_out]
        return any(s.done or (metal and (s.coats_done or s.share)) for s in later) or (
            metal and any(s.anew for s in rest)
        )

    @property
    def coats_on(self) -> dict[str, int]:
        """{id of a step: its coats that are on}."""
        return {s.step.id: s.coats_done for s in self.states}

    @property
    def done_ids(self) -> set[str]:
        """Ids of the steps that are done."""
        return {s.step.id for s in self.states if s.done}

    @property
    def next(self) -> StepState | None:
        """The first undone step."""
        return None if self.next_index is None else self.states[self.next_index]

    @property
    def next_layer(self) -> StepState | None:
        """The first undone step that leaves film, from the next step on."""
        if self.next_index is None:
            return None
        return next((s for s in self.states[self.next_index :] if STEPS[s.step.kind].leaves_film and not s.done), None)

    @property
    def next_act(self) -> str:
        """The act that comes before the next layer (weld, close, mask, fit, pack), "" if none does."""
        if self.next_index is None:
            return ""
        for state in self.states[self.next_index :]:
            if STEPS[state.step.kind].leaves_film and not state.done:
                return ""
            if STEPS[state.step.kind].act and not state.done:
                return STEPS[state.step.kind].act
        return ""

    def toward(self, kinds: Mapping[str, str]) -> Toward | None:
        """What the top layer's window is asked for: an act that comes first, else the next coat.

        kinds: kind by product name.
        """
        layer = self.next_layer
        product = layer.step.product if layer else ""
        if self.next_act:
            return Toward(product, kinds.get(product, ""), self.next_act)
        return Toward(product, kinds.get(product, ""), "", layer.step.id, layer.coats_done) if layer else None

    @property
    def stage(self) -> str:
        """Stage of the route at which the zone stands."""
        return stage_of([s.step.kind for s in self.states], self.next_index)


def _state(step: PlanStep, events: Sequence[Event]) -> StepState:
    if step.left_out:
        return StepState(step, done=True)
    recorded = _RECORDS.get(STEPS[step.kind].entry)
    mine = [e for e in events if e.step == step.id and recorded and isinstance(e, recorded)]
    if recorded is Coated:
        return _coated(step, mine)
    if recorded is happened.FilmLost:
        # Its share is the strip of film that is gone, not how much of the seam is welded.
        return StepState(step, 0, float(bool(mine)), bool(mine))
    share = min(1.0, sum(e.share for e in mine))
    anew = any(isinstance(e, happened.Back) and e.came != "as-sent" for e in mine)
    return StepState(step, 0, share, share >= FULL, anew=anew)


def _coated(step: PlanStep, coats: Sequence[Event]) -> StepState:
    """How many coats are on in full, and how much of the next."""
    done, share = 0, 0.0
    for event in coats:
        share += event.share
        if share >= FULL:
            done, share = done + 1, 0.0
    return StepState(step, done, share, done >= step.coats)


def progress_of(steps: Sequence[PlanStep], events: Sequence[Event], t_s: float) -> Progress:
    """Hold a plan against events that ended by `t_s` [epoch s].

    Degreasing lapses 60 minutes after it ended unless the layer it was for has begun.
    """
    past = sorted((e for e in events if e.ended_s <= t_s), key=lambda e: e.turn)
    states = [_state(step, past) for step in steps]
    states = [StepState(s.step, 0, 0.0, False, True) if _has_lapsed(s, past, t_s) else s for s in states]
    found = Progress(tuple(states), None)
    due = (i for i, s in enumerate(states) if not s.done)
    # A layer that nobody logged is asked for all the same.
    first = next((i for i in due if STEPS[states[i].step.kind].leaves_film or not found.is_passed_over(i)), None)
    return Progress(found.states, first)


def _has_lapsed(state: StepState, past: Sequence[Event], t_s: float) -> bool:
    """True for a wipe that is done and used up, with no coat since."""
    if not state.done or state.step.kind != StepKind.DEGREASE or state.step.left_out:
        return False
    wiped = max(e.ended_s for e in past if isinstance(e, Degreased) and e.step == state.step.id)
    coated_since = any(isinstance(e, Coated) and e.ended_s > wiped for e in past)
    return not coated_since and t_s >= wiped + DEGREASED_S
