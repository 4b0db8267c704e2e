"""The one judge: may this be done to that, now, and was it, and will it be?

`judge(act, face)` looks at every aspect that concerns the act and says of each: it stops, warns, advises, is clean, or
is not judged, with what is missing. Bench, the air band, the plan, the pot, the log and the record ask no other.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

from ..metal import harm
from ..surface.names import Status, StepKind
from ..surface.steps import STEPS
from . import (  # noqa: F401 - they enter rules
    coat,
    colour,
    findings,
    grit,
    masking,
    over,
    preparation,
    reach,
    safety,
    whole,
)
from .face import COATS, MENDS, Act, Face, Tense, may_be_painted, suspected
from .facts import Notes, facts_of
from .registry import SEVERITIES, Aspect, Rule, Verdict, default_schools, gravest_first, rules_for, verdict_of
from .seen import Case, SeenAct, SeenFace, SeenFinding, SeenGround, SeenTin

_OF_A_COAT = (
    Aspect.METAL,
    Aspect.FINDINGS,
    Aspect.PREPARATION,
    Aspect.CLEAN,
    Aspect.BARE,
    Aspect.UNDER,
    Aspect.WINDOW,
    Aspect.AIR,
    Aspect.FILM,
    Aspect.GRIT,
    Aspect.POT,
    Aspect.ACCESS,
    Aspect.COLOUR,
    Aspect.SAFETY,
)
_SANDING = (Aspect.METAL, Aspect.FINDINGS, Aspect.CLEAN, Aspect.WINDOW, Aspect.FILM, Aspect.SAFETY)
_HOT = (Aspect.FINDINGS, Aspect.WINDOW, Aspect.SAFETY)
CONCERNS: dict[str, tuple[Aspect, ...]] = {
    **dict.fromkeys(COATS, _OF_A_COAT),
    StepKind.STRIP: (Aspect.METAL, Aspect.FINDINGS, Aspect.SAFETY),
    StepKind.DEGREASE: (Aspect.METAL, Aspect.FINDINGS, Aspect.CLEAN, Aspect.SAFETY),
    StepKind.ABRADE: _SANDING,
    StepKind.BLOCK: _SANDING,
    StepKind.ACID_PREP: (Aspect.METAL, Aspect.FINDINGS, Aspect.UNDER, Aspect.SAFETY),
    StepKind.WELD: _HOT,
    StepKind.SOLDER: _HOT,
    StepKind.CLEAN: (Aspect.SAFETY,),
    StepKind.FORCE_DRY: (Aspect.SAFETY,),
    StepKind.MASK: (Aspect.WINDOW,),
    StepKind.POLISH: (Aspect.WINDOW,),
    StepKind.TRIAL_FIT: (Aspect.WINDOW,),
    StepKind.CONTRACTOR: (Aspect.WINDOW,),
    StepKind.CLOSE: (
        Aspect.METAL,
        Aspect.FINDINGS,
        Aspect.CLEAN,
        Aspect.BARE,
        Aspect.WINDOW,
        Aspect.ACCESS,
        Aspect.SAFETY,
    ),
}
"""Kind of step -> the aspects that concern it; kinds that are not here are not judged at all."""
WITH_THE_LAYER = frozenset(
    {
        Aspect.METAL,
        Aspect.FINDINGS,
        Aspect.PREPARATION,
        Aspect.BARE,
        Aspect.UNDER,
        Aspect.AIR,
        Aspect.ACCESS,
        Aspect.SAFETY,
    }
)
"""Aspects of a layer that are looked at before the preparation that lapses is done for it."""
CLOCKS = frozenset({Aspect.BARE, Aspect.WINDOW, Aspect.AIR, Aspect.POT})
"""Aspects that a plan has nothing to say of: it has no hours and no pot."""
ASKED = {"holes": "holes", "pits": "pits", "thin": "thickness left", "wax": "wax", "salts": "salts", "duty": "load"}
"""What a survey has to tell before a first coat, and how it is called."""


@dataclass(frozen=True)
class Ruling:
    """All that is to be said of an act: verdicts, the gravest first; what is missing, by aspect; what is clean.

    concerned: the aspects that were looked at, in order.
    """

    act: Act
    verdicts: tuple[Verdict, ...] = ()
    missing: Mapping[Aspect, str] = field(default_factory=dict)
    clean: tuple[Aspect, ...] = ()
    concerned: tuple[Aspect, ...] = ()

    @property
    def word(self) -> str:
        """The gravest word: stops, warns, advises, "not judged" or clean; the last only where nothing is missing."""
        if self.verdicts:
            return self.verdicts[0].severity
        return "not judged" if self.missing else "clean"

    @property
    def stop(self) -> Verdict | None:
        """What stops it, None if nothing does."""
        return self.verdicts[0] if self.word == "stops" else None

    def word_of(self, aspect: Aspect) -> str:
        """The gravest word of an aspect, "not judged", or clean."""
        found = [v.severity for v in self.verdicts if v.aspect == aspect]
        if found:
            return min(found, key=SEVERITIES.index)
        return "not judged" if aspect in self.missing else "clean"

    def without(self, gone: Callable[[Verdict], bool]) -> "Ruling":
        """The same without verdicts that are accepted or quiet; what they were about counts as looked at."""
        kept = tuple(v for v in self.verdicts if not gone(v))
        return Ruling(self.act, kept, self.missing, _clean(self.concerned, kept, self.missing), self.concerned)


def judge(act: Act, face: Face, schools: Mapping[str, str] | None = None, off: frozenset[str] = frozenset()) -> Ruling:
    """What is to be said of an act on a face. schools: answers to questions of the trade; off: rules switched off."""
    concerned = _concerned(act)
    if not concerned:
        return Ruling(act)
    held = {**default_schools(), **(schools or {})}
    parts = _parts(act, face, concerned)
    found: list[Verdict] = []
    missing: dict[Aspect, str] = {}
    for one, met, aspects in parts:
        notes: Notes = {}
        seen = Case(notes, SeenAct(notes, one), SeenFace(notes, one, met), held)
        found += _found(seen, aspects, off)
        missing |= _missing(seen, aspects)
    concerned = tuple(aspect for aspect in Aspect if any(aspect in aspects for *_, aspects in parts))
    in_turn = sorted(_once(found), key=lambda v: concerned.index(v.aspect))
    verdicts = tuple(gravest_first(in_turn))
    return Ruling(act, verdicts, missing, _clean(concerned, verdicts, missing), concerned)


def _parts(act: Act, face: Face, concerned: tuple[Aspect, ...]) -> list[tuple[Act, Face, tuple[Aspect, ...]]]:
    """The act on the face with its aspects, and the layer that a lapsing preparation is for, if it is to be done now:
    on a face without what the preparation itself puts right.
    """
    if act.leads_to is None or act.tense != Tense.NOW:
        return [(act, face, concerned)]
    led = replace(act.leads_to, began_s=act.began_s, ended_s=act.ended_s, fit=act.fit)
    left = replace(face, findings=tuple(f for f in face.findings if f.topic not in MENDS.get(act.kind, ())))
    aspects = tuple(aspect for aspect in _concerned(led) if aspect in WITH_THE_LAYER)
    return [(act, face, concerned), (led, left, aspects)]


def _missing(seen: Case, aspects: tuple[Aspect, ...]) -> dict[Aspect, str]:
    """What of each aspect nobody told."""
    asked = {aspect: _MISSING[aspect](seen) for aspect in aspects if aspect in _MISSING}
    return {aspect: why for aspect, why in asked.items() if why}


def _found(seen: Case, aspects: tuple[Aspect, ...], off: frozenset[str]) -> list[Verdict]:
    """What each rule of these aspects says of an act."""
    act, found, schools = seen.act.raw, list[Verdict](), tuple(seen.schools.items())
    for each in ("face", "ground", "finding", "tin"):
        rules = _asked(each, schools, off, act.kind, aspects)
        for case, about in _subjects(each, seen) if rules else ():
            for rule in rules:
                seen.notes.clear()
                for said in rule.check(case):
                    found.append(verdict_of(rule, said, about, facts_of(seen.notes), act.subject))
    return found


@lru_cache(maxsize=1024)
def _asked(
    each: str, schools: tuple[tuple[str, str], ...], off: frozenset[str], kind: str, aspects: tuple[Aspect, ...]
) -> list[Rule]:
    return [r for r in rules_for(each, dict(schools), off) if kind in r.kinds and r.aspect in aspects]


def _concerned(act: Act) -> tuple[Aspect, ...]:
    found = CONCERNS.get(act.kind, ())
    if act.tense == Tense.PLAN:
        return tuple(aspect for aspect in found if aspect not in CLOCKS)
    if act.mixed is None:
        return tuple(aspect for aspect in found if aspect != Aspect.POT)
    return found


def _clean(
    concerned: tuple[Aspect, ...], verdicts: tuple[Verdict, ...], missing: Mapping[Aspect, str]
) -> tuple[Aspect, ...]:
    spoken = {v.aspect for v in verdicts} | set(missing)
    return tuple(aspect for aspect in concerned if aspect not in spoken)


def _once(found: list[Verdict]) -> Iterator[Verdict]:
    """The same sentence of the same rule once, whatever the grounds it was said of."""
    said = set()
    for verdict in found:
        if (verdict.rule, verdict.sentence) not in said:
            said.add((verdict.rule, verdict.sentence))
            yield verdict


def _subjects(each: str, seen: Case) -> Iterator[tuple[Case, str]]:
    """(the case with one subject of a kind in view, which one it is)."""
    act, notes = seen.act.raw, seen.notes
    if each == "face":
        yield seen, ""
    elif each == "ground":
        for ground in seen.face.grounds:
            one = SeenGround(notes, act, seen.face, ground)
            yield Case(notes, seen.act, seen.face, seen.schools, ground=one), ground.key
    elif each == "finding":
        for finding in seen.face.raw.findings:
            yield Case(notes, seen.act, seen.face, seen.schools, finding=SeenFinding(notes, finding)), finding.key
    else:
        for tin in act.tins:
            yield Case(notes, seen.act, seen.face, seen.schools, tin=SeenTin(notes, tin)), tin.name


def _on_grounds(why: Callable[[Case, SeenGround], str]) -> Callable[[Case], str]:
    """What is missing on any ground, each reason once."""

    def ask(seen: Case) -> str:
        reasons = []
        for ground in seen.face.grounds:
            one = SeenGround(seen.notes, seen.act.raw, seen.face, ground)
            case = Case(seen.notes, seen.act, seen.face, seen.schools, ground=one)
            reasons.append(why(case, one))
        return "; ".join(dict.fromkeys(filter(None, reasons)))

    return ask


def _no_survey(seen: Case) -> str:
    """What of the metal nobody has told, where some of it shows."""
    metal_shows = any(not g.patch.layers for g in seen.face.grounds)
    if not metal_shows or not seen.act.is_coat:
        return ""
    asked = [name for topic, name in ASKED.items() if (topic, "") not in seen.face.raw.told]
    if len(asked) == len(ASKED):
        return "nobody has looked it over: Inspect"
    return f"nobody told of {', '.join(asked)}" if asked else ""


def _how_bared(case: Case, ground: SeenGround) -> str:
    if not ground.bare or ground.keyed or not case.act.is_coat or ground.bared_by or ground.lost_by:
        return ""
    return "how it was bared is not told"


def _no_grit(case: Case, ground: SeenGround) -> str:
    if not ground.keyed:
        return ""
    if not ground.grit:
        return "the grit it was keyed with is not told"
    return "the film over its scratches is not told" if case.act.raw.over_um is None else ""


def _no_window(seen: Case) -> str:
    clock = seen.face.window if seen.act.is_coat or STEPS[seen.act.raw.kind].act else None
    if clock is None:
        return ""
    return clock.note if clock.status == Status.UNJUDGED else clock.untold


def _no_film(seen: Case) -> str:
    if not seen.act.is_coat:
        return ""
    if seen.act.sheet is None:
        return f"no data sheet for {seen.act.name}"
    film, raw = seen.act.sheet.film, seen.act.raw.film
    if film is None or film.aim_um is None:
        return f"the sheet of {seen.act.name} gives no film"
    if raw is not None and raw.dft_um is None:
        return f"no film is planned or told for {seen.act.name}"
    unknown = seen.face.unknown_film
    return f"the film of {unknown} on it is not told, nor so the whole" if unknown else ""


def _no_batch(seen: Case) -> str:
    act = seen.act.raw
    return "" if act.pot is not None or act.tins else "neither pot nor batch is told"


def _no_bare_time(seen: Case) -> str:
    return "" if seen.face.raw.has_air else "no air here: say where it stands"


def _iron(seen: Case) -> str:
    first = seen.face.raw.substrate == "cast iron" and any(g.bare for g in seen.face.grounds)
    if seen.act.earlier(StepKind.CLEAN):
        return ""
    return "whether oil was drawn out of the casting is not told" if first and seen.act.is_coat else ""


def _old_layers(seen: Case) -> str:
    raw = seen.face.raw
    suspect = suspected(raw)
    if seen.act.dusty_way in harm.TOUCHES and suspect:
        return f"what old layers it has is not told, nor whether they hold {suspect}: Inspect"
    if seen.act.raw.kind == StepKind.STRIP and not seen.act.way and raw.as_found and (raw.harm or may_be_painted(raw)):
        return "how it is bared is not told, nor so what dust that makes"
    return ""


_MISSING: dict[Aspect, Callable[[Case], str]] = {
    Aspect.METAL: _iron,
    Aspect.FINDINGS: _no_survey,
    Aspect.PREPARATION: _on_grounds(_how_bared),
    Aspect.BARE: _no_bare_time,
    Aspect.UNDER: _on_grounds(over.unjudged),
    Aspect.WINDOW: _no_window,
    Aspect.AIR: coat.unknown_air,
    Aspect.FILM: _no_film,
    Aspect.GRIT: _on_grounds(_no_grit),
    Aspect.POT: _no_batch,
    Aspect.SAFETY: _old_layers,
}
"""Aspect -> what of act and face it needs and nobody told, "" if all is known."""
