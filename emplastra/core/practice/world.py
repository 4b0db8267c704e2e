"""A practice played: acts folded in order, each judged in silence, what follows told when it would show.

`play(scenario, piece, seed, acts)` gives the World after them; the same seed and acts give the same. Nothing of it is
stored: a practice is its seed and its acts.
"""

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from functools import cached_property
from random import Random
from typing import Any

import numpy as np

from ..air.dewpoint import dew_point_c
from ..air.journey import MEASURED, Air, Journey, journey
from ..air.lag import lag_s
from ..buying.bill import price_per_ml
from ..metal.strip import is_by_hand
from ..product.film import METHODS, Film
from ..product.mixing import base_stranded_share, life_share
from ..product.sheet import Sheet
from ..rules.cautions import owed
from ..rules.face import COATS, Act, Face, FindingFact, PotTimes, Tense
from ..rules.judge import judge
from ..rules.registry import Aspect, Verdict
from ..rules.rehearsal import act_of
from ..schedule.durations import MIX_MIN, minutes
from ..surface import events
from ..surface.bare import drying_of
from ..surface.clocks import Setting, recoat_clock, thicker, with_clocks
from ..surface.events import Event
from ..surface.fit import blushed, dewed, fit_of
from ..surface.fold import Surface, Toward, build
from ..surface.integral import crossing
from ..surface.names import Loss, Runs, StepKind
from ..surface.plan import PlanStep, Progress, progress_of
from ..surface.steps import STEPS
from ..survey.answers import Answer
from ..words import area_q, length_q
from ..working import Basis, Figure
from .scenario import FaceGiven, Piece, Scenario, sheets
from .shows import SUN, shows_of, speaks, title_of

H = 3600.0
BURNT_MM = 25.0
"""A weld burns the film off so far to each side [mm]. Common practice, no source."""
USUAL_MM = {"near": 0.6, "usual": 1.0, "far": 1.7}
"""How the gun is held -> its distance, as times the usual."""
DRY_FROM = 1.4
"""From so many times the usual distance paint arrives dry. Common practice, no source."""
WET = {"thin": 0.6, "as planned": 1.0, "heavy": 1.7}
"""How a coat is put on -> its wet film, as times the planned."""
MIXED = {"short": -0.15, "by the scale": 0.0, "more": 0.15}
"""How a pot is mixed -> its hardener, as a share more than its ratio."""
GRITS = ("P80", "P120", "P150", "P180", "P240", "P320", "P400", "P500", "P600", "P800")
WAITS = (5, 15, 30, 60, 240, 720)
"""How long one may wait at once [min]."""
WASTED = 0.4
"""So much of a pot left when it goes off is waste worth a word (share). Ours."""
MOST_ACTS = 300
RATE = 60.0
"""What an hour of work costs in practice."""
RAG_MIN = 4.0
SUN_NOON_H = 5.0
"""The sun has warmed what stands in it after so long [h]. Common practice, no source."""


class ActError(ValueError):
    """An act that cannot be: field names what is wrong, the text what would do."""

    def __init__(self, field_: str, message: str) -> None:
        super().__init__(message)
        self.field = field_


@dataclass(frozen=True)
class Follows:
    """Something that follows from an act: rule, what it is called, the rule's sentence and its source; when it was
    decided and when it shows [epoch s]; hidden: seen only by whoever looks; again_h: what mends it [h].
    """

    rule: str
    name: str
    sentence: str
    source: str
    face: str
    act: int
    decided_s: float
    shows_s: float
    aspect: Aspect | None = None
    hidden: bool = False
    again_h: float = 0.0
    warned_s: float | None = None

    @property
    def title(self) -> str:
        """What the rule asks."""
        return title_of(self.rule)


@dataclass
class Pot:
    """A pot of practice: product, what it held and what is left [mL], when it may be used and is dead [epoch s], how
    much more hardener than its ratio (share).
    """

    product: str
    sheet: Sheet
    ml: float
    left_ml: float
    mixed_s: float
    times: PotTimes
    off: float
    act: int
    told: bool = False


@dataclass
class FaceNow:
    """A face while it is worked on."""

    given: FaceGiven
    steps: tuple[PlanStep, ...]
    where: Journey
    tau_s: float
    events: list[Event] = field(default_factory=list)
    moves: list[tuple[Any, ...]] = field(default_factory=list)
    rusted_s: float | None = None
    closed_s: float | None = None
    touched: set[str] = field(default_factory=set)
    """Steps on what was bare that are done."""

    @property
    def key(self) -> str:
        """Its key."""
        return self.given.key

    def plan(self, t_s: float) -> Progress:
        """Its plan against what was done by a moment [epoch s]."""
        steps = [replace(step, left_out="done") if step.id in self.touched else step for step in self.steps]
        return progress_of(steps, self.events, t_s)

    def surface(self, t_s: float) -> Surface:
        """What lies on it at a moment [epoch s], without clocks."""
        return build([e for e in self.events if e.ended_s <= t_s], t_s)

    def clocked(self, t_s: float) -> Surface:
        """The same at a moment [epoch s] with its clocks toward what its plan has next."""
        plan = self.plan(t_s)
        layer = plan.next_layer
        toward = plan.toward({name: sheet.kind for name, sheet in sheets().items()}) if layer else None
        return with_clocks(self.surface(t_s), self.setting(toward))

    def setting(self, toward: Toward | None) -> Setting:
        """What its clocks rest on."""
        return Setting(self.given.substrate, self.where, toward, drying=drying_of(self.given.part))

    def done(self, t_s: float) -> bool:
        """True if nothing of its plan is left at a moment [epoch s]."""
        return self.plan(t_s).next is None


@dataclass
class Row:
    """An act as it was done: its number, words, begin and end [epoch s], its face, whether it is a coat."""

    number: int
    words: str
    began_s: float
    ended_s: float
    face: str = ""
    coat: bool = False


@dataclass
class World:
    """A practice after its acts.

    t_s: its clock [epoch s]; rows: what was done; follows: all that follows, also what nobody saw yet; films: (face,
    product, planned [µm], put on [µm]) of each coat; kept, missed: windows; guarded: acts whose
    caution was taken.
    """

    scenario: Scenario
    piece: Piece
    seed: int
    start_s: float
    end_s: float
    t_s: float
    airs: Mapping[str, Air]
    faces: dict[str, FaceNow]
    pots: list[Pot] = field(default_factory=list)
    rows: list[Row] = field(default_factory=list)
    follows: list[Follows] = field(default_factory=list)
    films: list[tuple[str, str, float, float | None]] = field(default_factory=list)
    kept: int = 0
    missed: int = 0
    guarded: int = 0
    work_s: float = 0.0
    paint: float = 0.0
    ended: bool = False

    @property
    def shown(self) -> list[Follows]:
        """What shows by now: hidden things once somebody looked, or at the end."""
        return [f for f in self.follows if f.shows_s <= self.t_s and (not f.hidden or self.ended)]

    @property
    def unseen(self) -> list[Follows]:
        """What nobody could see yet."""
        shown = self.shown
        return [f for f in self.follows if f not in shown]

    @cached_property
    def zero_s(self) -> float:
        """Midnight before it begins [epoch s]."""
        return self.start_s - (self.start_s % 86400.0)

    def place_of(self, face: FaceNow) -> str:
        """Name of the place where a face stands."""
        return str(face.moves[-1][2])


def air_of(scenario: Scenario, seed: int) -> dict[str, Air]:
    """{place: its air} of a scenario in one weather: the seed moves mean, humidity and the hour of the change."""
    told, random = scenario.air, Random(seed)
    mean, rh = told.mean_c + random.uniform(-0.8, 0.8), told.rh_pct + random.uniform(-2.5, 2.5)
    change = told.rise_from_h * random.uniform(0.9, 1.1)
    start = scenario.starts.replace(tzinfo=UTC).timestamp()
    hours = np.arange(-72.0, scenario.ends_h + 24.0 * 35, 0.5)
    of_day = (start / H + hours) % 24.0
    wave = np.cos((of_day - 15.0) / 24.0 * 2 * math.pi)
    grown = np.clip((hours - change) / max(told.rise_h, 0.1), 0.0, 1.0) * told.rise_pct
    found = {}
    for n, key in enumerate(scenario.places):
        out = 0.0 if n == 0 else 1.0
        temps = mean + (1.0 + 1.5 * out) * told.swing_k * wave - 1.5 * out
        damp = np.clip(rh + grown - 4.0 * wave * (1 + out), 20.0, 97.0)
        dews = np.array([dew_point_c(float(c), float(r)) for c, r in zip(temps, damp, strict=True)])
        basis = np.full(len(hours) - 1, MEASURED, np.int8)
        found[key] = Air(start + hours * H, temps, dews, basis)
    return found


def begin(scenario: Scenario, piece: Piece, seed: int) -> World:
    """A practice before its first act."""
    airs = air_of(scenario, seed)
    start = scenario.starts.replace(tzinfo=UTC).timestamp()
    first = next(iter(scenario.places))
    faces = {given.key: _face(given, airs[first], scenario.places[first], start) for given in piece.faces}
    return World(scenario, piece, seed, start, start + scenario.ends_h * H, start, airs, faces)


def _face(given: FaceGiven, air: Air, place: str, start: float) -> FaceNow:
    tau = lag_s(given.substrate, given.thickness_mm, 2)
    metal = air.at(start).air_c - given.cold_k if given.cold_k else None
    moves: list[tuple[Any, ...]] = [(start - 40 * H if metal is None else start, air, place, metal)]
    face = FaceNow(given, given.plan, journey(moves, tau), tau, moves=moves)
    n = 0
    if given.primed_h is not None:
        at = start - given.primed_h * H
        sheet = sheets()["Practice epoxy"]
        face.events += [
            events.Bared(at - 2 * H, at - H, how="sander"),
            events.Keyed(at - H, at - H + 600, grit="P80"),
            events.Degreased(at - 700, at - 600),
            events.Coated(at - 300, at, sheet=sheet, film=Film(40.0, Basis.MEASURED, "gauge"), product=sheet.product),
        ]
    elif given.bared_h is not None:
        at, how = start - given.bared_h * H, given.bared_by
        face.events.append(events.Bared(at - 600, at, how=how, by_hand=is_by_hand(how)))
    face.events = [replace(e, entry=-9 + n + i) for i, e in enumerate(face.events)]
    return face


def play(scenario: Scenario, piece: Piece, seed: int, acts: Sequence[Mapping[str, Any]]) -> World:
    """The World after acts, in their order. Raises ActError for the first that cannot be, by its number."""
    world = begin(scenario, piece, seed)
    for n, act in enumerate(acts, 1):
        do(world, n, act)
    return world


def do(world: World, number: int, act: Mapping[str, Any]) -> None:
    """Fold one act in: its time goes by, it is judged on what it meets, what follows is written down. Raises
    ActError.
    """
    if world.ended:
        raise ActError("do", "this practice has ended")
    if number > MOST_ACTS:
        raise ActError("do", f"has {MOST_ACTS} acts already: end it")
    kind = str(act.get("do", ""))
    if kind not in _ACTS:
        raise ActError("do", f"must be one of {', '.join(_ACTS)}")
    _ACTS[kind](world, number, act)
    if world.t_s >= world.end_s:
        _end(world, number, act)


def _pass(world: World, seconds: float, work: bool = True) -> tuple[float, float]:
    """Let time go by: what falls due in it happens; (begin, end) [epoch s]."""
    began, world.t_s = world.t_s, world.t_s + seconds
    if work:
        world.work_s += seconds
    for face in world.faces.values():
        _rusts(world, face, began)
    for pot in world.pots:
        _dies(world, pot)
    return began, world.t_s


def _rusts(world: World, face: FaceNow, since_s: float) -> None:
    """Flash rust on what stands bare past its hours; shut in, nobody sees it."""
    clock = face.clocked(since_s).clock(Runs.BARE)
    if clock is None or clock.closes_s is None or face.rusted_s is not None or clock.closes_s > world.t_s:
        return
    at = max(clock.closes_s, clock.since_s)
    face.rusted_s = at
    face.events.append(events.Checked(at, at, entry=_entry(world), check="no-flash-rust", passed=False))
    hours = (at - clock.since_s) / H
    said = f"Bare for {hours:.1f} h: in this air its hours added up to one. It is keyed again before anything goes on."
    shut = face.closed_s is not None and face.given.hides
    world.follows.append(
        _made(
            world,
            "flash-rust",
            Aspect.BARE,
            said,
            "ours, the bare-metal law",
            face,
            clock.since_s,
            at,
            shut,
            at - 0.5 * H,
        )
    )


def _dies(world: World, pot: Pot) -> None:
    """A pot that goes off with something left in it."""
    dead = pot.times.dead_s
    if pot.told or dead is None or dead > world.t_s or pot.left_ml < WASTED * pot.ml:
        return
    pot.told = True
    said = f"{pot.left_ml:.0f} of {pot.ml:.0f} mL were left when the pot of {pot.product} went off."
    world.follows.append(
        Follows(
            "dead-pot",
            "Pot gone off",
            said,
            "the data sheet",
            "",
            pot.act,
            pot.mixed_s,
            dead,
            Aspect.POT,
            False,
            0.4,
            dead - 0.5 * H,
        )
    )


def _made(
    world: World,
    rule: str,
    aspect: Aspect,
    said: str,
    source: str,
    face: FaceNow,
    decided_s: float,
    shows_s: float,
    hidden: bool = False,
    warned_s: float | None = None,
) -> Follows:
    shows = shows_of(rule, aspect)
    number = next((row.number for row in reversed(world.rows) if row.began_s <= decided_s + 1), 0)
    return Follows(
        rule, shows.name, said, source, face.key, number, decided_s, shows_s, aspect, hidden, shows.again_h, warned_s
    )


def _entry(world: World) -> int:
    """A number for an event, after all there are."""
    return 1 + sum(len(face.events) for face in world.faces.values()) + 1000 * len(world.rows)


def _named(world: World, act: Mapping[str, Any], name: str = "face") -> FaceNow:
    key = str(act.get(name, ""))
    if key not in world.faces:
        raise ActError(name, f"must be one of {', '.join(world.faces)}")
    return world.faces[key]


def _one_of(act: Mapping[str, Any], name: str, allowed: Iterable[str], default: str) -> str:
    told = str(act.get(name, default))
    if told not in allowed:
        raise ActError(name, f"must be one of {', '.join(allowed)}")
    return told


# What may be done


def _wait(world: World, number: int, act: Mapping[str, Any]) -> None:
    told = act.get("min", 15)
    if isinstance(told, bool) or not isinstance(told, (int, float)) or not 1 <= told <= 24 * 60:
        raise ActError("min", "must be from 1 min to 24 h")
    began, ended = _pass(world, 60.0 * min(told, max(1.0, (world.end_s - world.t_s) / 60.0)), work=False)
    world.rows.append(Row(number, "Wait", began, ended))


def _mix(world: World, number: int, act: Mapping[str, Any]) -> None:
    name = str(act.get("product", ""))
    sheet = sheets().get(name)
    if sheet is None or sheet.form != "mixed":
        raise ActError("product", "must be a product with two parts")
    ml = act.get("ml", 0)
    if isinstance(ml, bool) or not isinstance(ml, (int, float)) or not 10 <= ml <= 5000:
        raise ActError("ml", "must be from 10 to 5000 mL")
    off = MIXED[_one_of(act, "how", MIXED, "by the scale")]
    began, ended = _pass(world, 60.0 * MIX_MIN)
    where = next(iter(world.faces.values())).where
    ready = crossing(where, sheet.induction, ended).t_s if sheet.induction and not sheet.no_induction else None
    dead = crossing(where, sheet.pot_life, ended, life_share(ml, sheet.pot_life_ml)).t_s if sheet.pot_life else None
    if not any(part.role == "hardener" for part in sheet.components):
        off = 0.0
    world.pots.append(Pot(name, sheet, float(ml), float(ml), ended, PotTimes(ready, dead), off, number))
    world.paint += float(ml) * _price(sheet)
    world.rows.append(Row(number, f"Mix {ml:.0f} mL of {name}", began, ended))


def _price(sheet: Sheet) -> float:
    """What a mL ready to use costs, by its parts."""
    variant = sheet.variants[-1] if sheet.variants else None
    shares = sheet.volume_shares(variant)
    return sum(share * float(price_per_ml(sheet, key) or 0) for key, share in shares.items())


def _step(world: World, number: int, act: Mapping[str, Any]) -> None:
    face = _named(world, act)
    step = next((s for s in face.steps if s.id == act.get("step")), None)
    if step is not None and step.grit and act.get("grit"):
        step = replace(step, grit=_one_of(act, "grit", GRITS, step.grit))
    if step is None:
        raise ActError("step", f"must be a step of its plan: {', '.join(s.id for s in face.steps)}")
    if face.closed_s is not None:
        raise ActError("face", f"{face.given.name} is shut in: open it first")
    if step.kind in COATS:
        _coat(world, number, act, face, step)
    else:
        _work(world, number, act, face, step)


def _again(world: World, number: int, act: Mapping[str, Any]) -> None:
    """A wipe or a key that no step of the plan is for."""
    face = _named(world, act)
    kind = _one_of(act, "kind", (StepKind.ABRADE, StepKind.DEGREASE), StepKind.ABRADE)
    if face.closed_s is not None:
        raise ActError("face", f"{face.given.name} is shut in: open it first")
    grit = _one_of(act, "grit", GRITS, "P180")
    product = "Practice wipe" if kind == StepKind.DEGREASE else ""
    _work(world, number, act, face, PlanStep(f"again-{number}", kind, product, grit=grit))


def _work(world: World, number: int, act: Mapping[str, Any], face: FaceNow, step: PlanStep) -> None:
    """A step that leaves no film."""
    judged, met = _met(world, face, step, act)
    _guard(world, number, act, face, judged, met)
    least = RAG_MIN if step.kind in {StepKind.DEGREASE, StepKind.RINSE, StepKind.DRY} else 8.0
    began, ended = _pass(world, 60.0 * max(least, minutes(step, face.given.area_m2) - 8.0))
    world.rows.append(Row(number, _words(face, step), began, ended, face.key))
    _speak(world, number, face, replace(judged, began_s=began, ended_s=ended), met)
    face.events += _left(world, face, step, began, ended)
    if step.kind == StepKind.ABRADE:
        face.rusted_s = None
    if step.kind == StepKind.WELD:
        _burn(world, number, face, began, ended)
    if step.kind == StepKind.CLOSE:
        _shut(world, number, face, began, ended)


def _left(world: World, face: FaceNow, step: PlanStep, began: float, ended: float) -> list[Event]:
    """What a step that leaves no film leaves behind."""
    at: dict[str, Any] = {"began_s": began, "ended_s": ended, "step": step.id, "entry": _entry(world)}
    sheet = sheets().get(step.product)
    um_off = next((s.sanded_um for s in face.steps if s.sanded_um and step.kind == StepKind.BLOCK), 0.0)
    made: dict[str, Event] = {
        StepKind.STRIP: events.Bared(**at, how="sander"),
        StepKind.ABRADE: events.Keyed(**at, grit=step.grit),
        StepKind.BLOCK: events.Keyed(**at, grit=step.grit, um_off=um_off),
        StepKind.DEGREASE: events.Degreased(**at, product=step.product, sheet=sheet),
        StepKind.ACID_PREP: events.Prepped(**at, product=step.product, sheet=sheet),
        StepKind.RINSE: events.Rinsed(**at),
        StepKind.DRY: events.Dried(**at),
        StepKind.CLOSE: events.Access(**at, how="closed"),
    }
    if step.kind == StepKind.WELD:
        return [events.FilmLost(began, ended, _burnt_share(face, face), step.id, at["entry"], Loss.WELD)]
    return [made[step.kind]] if step.kind in made else [events.Done(**at)]


def _burnt_share(by: FaceNow, face: FaceNow) -> float:
    """The share of a face that a weld burns bare, to both sides of its seam."""
    return min(1.0, max(0.01, by.given.seam_mm * 2 * BURNT_MM / 1e6 / face.given.area_m2))


def _burn(world: World, number: int, by: FaceNow, began: float, ended: float) -> None:
    """A weld burns the film off the far side too."""
    if not by.given.burns:
        return
    far = world.faces[by.given.burns]
    share = _burnt_share(by, far)
    far.events.append(events.FilmLost(began, ended, share, "", _entry(world), Loss.WELD))
    if far.closed_s is not None:
        _burnt(world, far, number, ended)


def _burnt(world: World, far: FaceNow, number: int, decided_s: float) -> None:
    """The far side is burnt bare and shut in."""
    share = sum(lost for _, lost, _ in far.surface(world.t_s).lost)
    area = share * far.given.area_m2
    said = (
        f"A weld burns the film off both faces, {length_q(BURNT_MM)} each side: {area_q(area, digits=3)} of "
        f"{far.given.name.lower()} is bare, and it is shut in."
    )
    made = _made(
        world, "weld-burns", Aspect.ACCESS, said, "common practice", far, decided_s, decided_s, True, decided_s
    )
    world.follows.append(replace(made, act=number))


def _shut(world: World, number: int, face: FaceNow, began: float, ended: float) -> None:
    """A face is closed: bare metal in it is shut in with it."""
    face.closed_s = ended
    said = [f for f in world.follows if f.act == number and f.rule == "hidden-bare"]
    world.follows = [f for f in world.follows if f not in said]
    if face.surface(began).lost:
        _burnt(world, face, number, began)
    else:
        world.follows += [replace(f, hidden=True, shows_s=began) for f in said]


def _coat(world: World, number: int, act: Mapping[str, Any], face: FaceNow, step: PlanStep) -> None:
    """One coat of a step."""
    sheet = sheets()[step.product]
    pot = _pot_for(world, sheet)
    wet, held = WET[_one_of(act, "wet", WET, "as planned")], _one_of(act, "gun", USUAL_MM, "usual")
    wet_um = _wet_um(sheet, step) * wet
    share = sum(s for _, s in face.surface(world.t_s).bare) if step.on else 1.0
    if step.on and not share:
        raise ActError("step", f"nothing is bare on {face.given.name} that this coat would be for")
    judged, met = _met(world, face, step, act, pot, wet_um, share)
    _guard(world, number, act, face, judged, met)
    seconds = 60.0 * max(3.0, minutes(replace(step, method=step.method), face.given.area_m2) - MIX_MIN - 5.0)
    began, ended = _pass(world, seconds)
    world.rows.append(Row(number, _words(face, step), began, ended, face.key, True))
    _window(world, face, judged)
    _speak(world, number, face, judged, met)
    film = _film(sheet, wet_um)
    _gun(world, number, face, step, held, began, ended)
    if pot is not None:
        _ratio(world, number, face, pot, ended)
        pot.left_ml = max(0.0, pot.left_ml - wet * share * ready_ml(sheet, step, face.given.area_m2))
    of_step = "" if step.on else step.id  # what is touched up joins the coat that lies around it
    face.events.append(events.Coated(began, ended, share, of_step, _entry(world), sheet, film, sheet.product))
    if step.on:
        face.touched.add(step.id)
    face.rusted_s = None
    world.films.append((face.key, sheet.product, step.dft_um or 0.0, film.dft_um))


def _pot_for(world: World, sheet: Sheet) -> Pot | None:
    """The newest pot of a product that holds something. Raises ActError where one is to be mixed first."""
    if sheet.form != "mixed":
        return None
    pot = next((p for p in reversed(world.pots) if p.product == sheet.product and p.left_ml > 0.5), None)
    if pot is None:
        raise ActError("step", f"mix {sheet.product} first: no pot of it holds anything")
    return pot


def _solids(sheet: Sheet) -> float:
    solids = sheet.solids_pct(sheet.variants[-1] if sheet.variants else None)
    return solids.value if isinstance(solids, Figure) else 50.0


def _wet_um(sheet: Sheet, step: PlanStep) -> float:
    """The wet film that leaves the planned film of one coat [µm]."""
    return 100.0 * (step.dft_um or sheet.aim_um or 30.0) / _solids(sheet)


def ready_ml(sheet: Sheet, step: PlanStep, area_m2: float) -> float:
    """What one coat of a step takes of a product ready to use [mL] over an area [m2]."""
    return _wet_um(sheet, step) * area_m2 / METHODS[step.method].stays


def _film(sheet: Sheet, wet_um: float) -> Film:
    """The film that a coat of a wet film leaves [µm]."""
    return Film(wet_um * _solids(sheet) / 100.0, Basis.COMPUTED, "from a measured wet film")


def _window(world: World, face: FaceNow, judged: Act) -> None:
    """Count the window of what lies there, kept or missed."""
    surface = face.surface(world.rows[-1].began_s)
    if not surface.layers or judged.sheet is None:
        return
    clock = recoat_clock(replace(surface), face.where, Toward(judged.product, judged.product_kind))
    if clock is None:
        return
    began = world.rows[-1].began_s
    early = clock.opens_s is not None and began < clock.opens_s
    late = clock.closes_s is not None and began > clock.closes_s
    if early or late:
        world.missed += 1
    else:
        world.kept += 1


def _ratio(world: World, number: int, face: FaceNow, pot: Pot, ended: float) -> None:
    """What follows from a pot off its ratio, once for each face."""
    if abs(pot.off) * 100 <= pot.sheet.tolerance_pct:
        return
    more = pot.off > 0
    off, allowed = abs(pot.off) * 100, pot.sheet.tolerance_pct
    said = f"{off:.0f} % {'more' if more else 'less'} hardener than its ratio: the sheet allows {allowed:g} %."
    if more:
        said += f" At the end {base_stranded_share(pot.off) * 100:.0f} % of the base is left over."
    if any(f.rule == "ratio" and f.face == face.key and f.sentence == said for f in world.follows):
        return
    shows = shows_of("ratio")
    at = ended + float(shows.after_h) * H
    made = _made(world, "ratio", Aspect.POT, said, "the data sheet", face, pot.mixed_s, at, False, pot.mixed_s)
    world.follows.append(replace(made, act=pot.act))


def _gun(world: World, number: int, face: FaceNow, step: PlanStep, held: str, began: float, ended: float) -> None:
    """What follows from how the gun was held."""
    method = METHODS[step.method]
    if not method.is_sprayed or USUAL_MM[held] < DRY_FROM:
        return
    said = f"The gun was held {USUAL_MM[held]:.1f} times as far off as usual: the paint arrives dry, and lies rough."
    at = ended + float(shows_of("dry-spray").after_h) * H
    made = _made(world, "dry-spray", Aspect.FILM, said, "common practice", face, began, at, False, began)
    world.follows.append(replace(made, act=number))


def _met(
    world: World,
    face: FaceNow,
    step: PlanStep,
    told: Mapping[str, Any],
    pot: Pot | None = None,
    wet_um: float | None = None,
    share: float = 1.0,
) -> tuple[Act, Face]:
    """(an act as the judge sees it, what it meets)."""
    t_s, steps = world.t_s, list(face.steps)
    index = next((i for i, s in enumerate(steps) if s.id == step.id), None)
    if index is None:
        act = Act(step.kind, Tense.WAS, face.key, step.id, step.product, sheets().get(step.product), grit=step.grit)
    else:
        state = face.plan(t_s).states[index]
        act = act_of(steps, index, sheets(), Tense.WAS, face.key, state.coats_done + 1, share)
        act = replace(act, grit=step.grit)
    act = replace(act, began_s=t_s, ended_s=t_s, leads_to=None)
    if act.sheet is not None and wet_um is not None:
        film = _film(act.sheet, wet_um)
        metal = float(face.where.at(t_s).air_c)
        fit = fit_of(
            act.sheet, face.where, face.tau_s, metal, t_s, t_s + 300, None, None, thicker(film.dft_um, act.sheet.aim_um)
        )
        times = pot.times if pot else None
        act = replace(
            act, film=film, wet_um=wet_um, mixed=pot is not None, pot=times, solids_pct=_solids(act.sheet), fit=fit
        )
    return act, _face_met(world, face, act)


def _face_met(world: World, face: FaceNow, act: Act) -> Face:
    """A face as the judge sees it."""
    given, t_s = face.given, world.t_s
    told = {}
    for topic, row in given.told.items():
        values = {k: float(v) for k, v in row.items() if k != "is"}
        sentence = Answer(topic, "", str(row["is"]), values).sentence
        told[topic, ""] = FindingFact(
            topic, "", str(row["is"]), values, sentence, status="verified", said_s=world.start_s
        )
    toward = Toward(act.product, act.product_kind, STEPS[act.kind].act, act.step, act.coat - 1)
    setting = face.setting(toward)
    return Face(
        t_s,
        name=given.name,
        substrate=given.substrate,
        thickness_mm=given.thickness_mm,
        part=given.part,
        finish=given.finish,
        surface=face.surface(t_s),
        told=told,
        stripped=True,
        has_air=True,
        outdoors=world.place_of(face) != next(iter(world.scenario.places.values())),
        clocks=lambda surface: with_clocks(surface, setting),
        dewed=lambda a, b: dewed(face.where, face.tau_s, a, b),
        blushed=lambda layer: (
            blushed(
                layer.sheet, face.where, face.tau_s, face.where.at(layer.began_s).air_c, layer.began_s, layer.ended_s
            )
            or ""
            if layer.sheet
            else ""
        ),
        nights=lambda a, b: 0,
        air_line=lambda: True,
    )


def _speak(world: World, number: int, face: FaceNow, act: Act, met: Face) -> None:
    """What follows from what the judge had to say of an act: silent now, told when it shows."""
    ruling = judge(act, met, {})
    taken: set[str] = set()
    for verdict in ruling.verdicts:
        name = shows_of(verdict.rule, verdict.aspect).name
        if speaks(verdict) and name not in taken and not (verdict.harm and act.is_coat):
            taken.add(name)
            world.follows.append(_of(world, number, face, verdict))


def _of(world: World, number: int, face: FaceNow, verdict: Verdict) -> Follows:
    """What follows from a verdict."""
    shows, t_s = shows_of(verdict.rule, verdict.aspect), world.t_s
    at = _sun_s(world) if shows.after_h == SUN else t_s + float(shows.after_h) * H
    began = world.rows[-1].began_s
    return Follows(
        verdict.rule,
        shows.name,
        verdict.sentence,
        verdict.source,
        face.key,
        number,
        began,
        at,
        verdict.aspect,
        False,
        shows.again_h,
        began,
    )


def _sun_s(world: World) -> float:
    """When the sun has warmed what stands in it [epoch s]; where it never does, after the end."""
    told = world.scenario.sun_from_h
    return world.end_s + 24 * H if told is None else max(world.t_s, world.start_s + told * H) + SUN_NOON_H * H


def _guard(world: World, number: int, act: Mapping[str, Any], face: FaceNow, judged: Act, met: Face) -> None:
    """The caution of a step, taken or not."""
    cautions = owed(judged, met)
    if not cautions:
        return
    if act.get("guard"):
        world.guarded += 1
        return
    shows = shows_of("harm")
    said = f"Nobody took the caution of this step: {cautions[0]}"
    at = world.t_s + float(shows.after_h) * H
    made = _made(world, "harm", Aspect.SAFETY, said, "the data sheet", face, world.t_s, at, False, world.t_s)
    world.follows.append(replace(made, act=number))


def _words(face: FaceNow, step: PlanStep) -> str:
    kind = STEPS[step.kind].name
    more = f" {step.grit}" if step.grit else f" with {step.product}" if step.product else ""
    return f"{kind}{more}, {face.given.name.lower()}"


def _move(world: World, number: int, act: Mapping[str, Any]) -> None:
    key = _one_of(act, "to", world.scenario.places, "")
    began, ended = _pass(world, 600.0)
    place = world.scenario.places[key]
    for face in world.faces.values():
        metal = float(face.where.at(ended).air_c)
        face.moves.append((ended, world.airs[key], place, metal))
        face.where = journey(face.moves, face.tau_s)
    world.rows.append(Row(number, f"Move it to the {place.lower()}", began, ended))


def _look(world: World, number: int, act: Mapping[str, Any]) -> None:
    """Look closely, with lamp and mirror: what is hidden is seen."""
    face = _named(world, act)
    began, ended = _pass(world, 300.0)
    world.follows = [
        replace(f, hidden=False, shows_s=ended) if f.hidden and f.face == face.key else f for f in world.follows
    ]
    world.rows.append(Row(number, f"Look with lamp and mirror, {face.given.name.lower()}", began, ended, face.key))


def _open(world: World, number: int, act: Mapping[str, Any]) -> None:
    face = _named(world, act)
    if face.closed_s is None:
        raise ActError("face", f"{face.given.name} is not shut in")
    began, ended = _pass(world, 1800.0)
    face.closed_s = None
    face.events.append(events.Access(began, ended, entry=_entry(world), how="opened"))
    world.rows.append(Row(number, f"Open {face.given.name.lower()}", began, ended, face.key))
    world.follows = [
        replace(f, hidden=False, shows_s=ended) if f.hidden and f.face == face.key else f for f in world.follows
    ]


def _end(world: World, number: int, act: Mapping[str, Any]) -> None:
    """It ends: what is bare still rusts, what is open stays open, all is told."""
    if world.ended:
        return
    if world.t_s < world.end_s:
        _pass(world, world.end_s - world.t_s, work=False)
    world.ended = True
    world.rows.append(Row(number, "End", world.t_s, world.t_s))


_ACTS = {
    "wait": _wait,
    "mix": _mix,
    "step": _step,
    "again": _again,
    "move": _move,
    "look": _look,
    "open": _open,
    "end": _end,
}
"""What may be done -> how."""


def told(world: World) -> Iterator[str]:
    """The begin of a practice in words: what the piece is."""
    yield world.piece.says
    for face in world.piece.faces:
        yield f"{face.name}: {area_q(face.area_m2)}, {length_q(face.thickness_mm)}"


def moment(world: World, t_s: float) -> datetime:
    """A moment of its clock [epoch s], as its shop reads it (naive)."""
    return datetime.fromtimestamp(t_s, UTC).replace(tzinfo=None)
