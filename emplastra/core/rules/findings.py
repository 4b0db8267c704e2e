"""Rules about what was found on a face and is not mended: what holds a coat, a weld, a closing.

Where no source is named: common practice, no source. A finding counts as mended once its step is done.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ..product.kinds import ProductKind
from ..surface.names import COLOUR, StepKind
from ..survey.findings import CAUSES
from ..survey.inspection import POINTS
from ..words import length_q
from .face import COATS, Tense
from .registry import COMMON, SEVERITIES, Aspect, Said, rule
from .seen import Case

COVERS = COATS | {StepKind.CLOSE}
"""What shuts a face off."""
TREATS = COVERS | {StepKind.ACID_PREP, StepKind.ABRADE, StepKind.BLOCK, StepKind.DEGREASE}
ISOLATES = frozenset({ProductKind.EPOXY_PRIMER, ProductKind.EPOXY_MASTIC})
THIN_WARNS, THIN_STOPS, THIN_UNDER_LOAD = 1 / 3, 2 / 3, 0.1
"""Share of a skin's thickness lost at which it warns and stops, and under load. Common practice, no source."""


@dataclass(frozen=True)
class Holds:
    """A finding that holds a coat: topic, choices, the word, the sentence, the fix."""

    topic: str
    choices: frozenset[str]
    severity: str
    title: str
    says: Callable[[Case], str]
    fix: str = "mend"
    kinds: frozenset[str] = COVERS
    source: str = COMMON


ON_METAL = frozenset({"old-filler", "wax", "salts", "salts-untested", "dust", "cause-goes-on", "solder-out"})
"""Rules that are silent once a coat of ours lies on all of it: then it is too late to say."""


def _counted(c: Case, one: str, many: str) -> str:
    count, mm = c.of_finding.count, c.of_finding.mm
    how_many = f"{count:.0f} {many}" if count > 1 else one
    if not mm:
        return how_many
    return f"{how_many}, the largest {length_q(mm)}" if count > 1 else f"{how_many}, {length_q(mm)}"


def _hole(c: Case) -> str:
    return f"{_counted(c, 'A hole', 'holes')}: weld, braze or patch. Filler and paint do not bridge it."


def _pinholes(c: Case) -> str:
    said = f"{_counted(c, 'Pinholes', 'pinholes')}: those that go through are welded or brazed shut, blind ones skimmed"
    return f"{said}. Look against the light, or with air from inside." if c.face.part in {"box", "tank"} else f"{said}."


_LAMINATE = {
    "osmosis": "osmosis: open the blisters, wash them, let it dry before anything shuts it in",
    "delaminated": "layers are apart: cut back to where it rings, lay it up anew",
    "crazed": "its gel coat is crazed: cracks come back through, so out to sound laminate",
}


def _laminate_open(c: Case) -> str:
    return "; ".join(words for key, words in _LAMINATE.items() if key in c.of_finding.choice.split("+")) + "."


_FOUND: dict[str, Holds] = {
    "holes": Holds("holes", frozenset({"holes"}), "stops", "Holes are closed with metal", _hole),
    "pinholes": Holds("holes", frozenset({"pinholes"}), "stops", "Pinholes are closed before a coat", _pinholes),
    "taped": Holds(
        "filler", frozenset({"taped"}), "stops", "A hole taped over and filled", lambda c: "A hole taped over and filled: open it, close it with metal."
    ),
    "old-filler": Holds(
        "filler", frozenset({"filler"}), "warns", "Old filler hides what is under it", lambda c: "Old filler is in it: out with it, look at what it hides.", "strip"
    ),
    "found-more": Holds(
        "more", frozenset({"hole", "crack", "weld"}), "stops", "What was found more is mended", lambda c: f"{c.of_finding.sentence}: mend it with metal first."
    ),
    "found-filler": Holds(
        "more", frozenset({"filler", "dent", "other"}), "warns", "What was found more is looked at", lambda c: f"{c.of_finding.sentence}: look at it first."
    ),
    "wax": Holds(
        "wax", frozenset({"smears"}), "stops", "Wax is off before anything", lambda c: "It smears: wax. Off with solvent before anything else touches it.", "wax-off",
        TREATS - {StepKind.DEGREASE},
    ),
    "salts": Holds(
        "salts", frozenset({"tested"}), "stops", "Salts are washed off before any treatment",
        lambda c: f"{c.of_finding.sentence}: wash it again and test again.", "wash", COVERS | {StepKind.ACID_PREP},
        "ISO 8502-6, -9, from memory; limit common practice",
    ),
    "salts-untested": Holds(
        "salts", frozenset({"suspected"}), "warns", "Where salt is near it is tested", lambda c: "Salt is near and nothing was tested: wash it, then test.", "wash",
        COVERS | {StepKind.ACID_PREP},
    ),
    "dust": Holds("dust", frozenset("345"), "warns", "Dust is off before a coat", lambda c: f"{c.of_finding.sentence}: clean it again, test again.", "wipe", COVERS, "ISO 8502-3, from memory; limit common practice"),
    "cause-goes-on": Holds(
        "drain", frozenset({"blocked", "missing"}), "warns", "Rust whose cause goes on comes back",
        lambda c: f"Drain {c.of_finding.raw.mark} is blocked or missing: it feeds the next cavity. Mend the cause with the metal.",
    ),
    "under-dirt": Holds(
        "uncovered", frozenset({"dirt"}), "stops", "Nothing is judged under dirt", lambda c: "Dirt is packed in: empty it, wash it, look again before any treatment.", "wash",
        TREATS | {StepKind.STRIP},
    ),
    "water": Holds(
        "hides", frozenset({"wet"}), "stops", "Water is out of seams before a coat", lambda c: f"Wet or packed where rust hides ({c.of_finding.raw.mark.replace('-', ' ')}): open it, dry it.",
    ),
    "other-metal": Holds(
        "substrate", frozenset({"other"}), "stops", "The metal is the one that was measured", lambda c: "It is another metal than its measures say: correct them first.", "measure",
        TREATS | {StepKind.STRIP},
    ),
    "white": Holds(
        "white", frozenset({"powder"}), "stops", "White corrosion is off before a coat", lambda c: "White powder stands on it: to bright metal first, then measure what is left."
    ),
    "white-spots": Holds(
        "white", frozenset({"spots"}), "warns", "White corrosion in spots is off before a coat", lambda c: "White corrosion in spots: to bright metal there, or it goes on under any coat."
    ),
    "laminate-open": Holds("laminate", frozenset(_LAMINATE), "stops", "Laminate is sound before a coat", _laminate_open),
    "laminate-repair": Holds(
        "laminate", frozenset({"repair"}), "warns", "An old repair of laminate is tapped round", lambda c: "An old repair hides what is under it: tap round it before it is shut in."
    ),
    "pack-rust": Holds(
        "joints", frozenset({"pack"}), "warns", "Pack rust lifts its joint", lambda c: "Pack rust between its laps: open the joint, or clean and seal all that can be reached."
    ),
    "two-metals": Holds(
        "joints", frozenset({"other-metal"}), "warns", "Two metals are kept apart before they are fitted",
        lambda c: "Rivets or bolts of another metal: isolate them before it is closed, or they eat the lesser metal.", "mend", frozenset({StepKind.CLOSE}),
    ),
    "craters": Holds(
        "film", frozenset({"craters"}), "stops", "Craters come back through the next coat", lambda c: f"{c.of_finding.sentence}: wipe, sand to sound film, clean; look for oil in the air line.", "mend", COATS
    ),
    "runs": Holds("film", frozenset({"runs"}), "warns", "Runs are flat before the next coat", lambda c: f"{c.of_finding.sentence}: let it harden through, shave and sand them flat first.", "mend", COATS),
    "grit-in": Holds(
        "film", frozenset({"dry-spray", "dust", "insects", "orange-peel", "popping", "pinholes", "sunk"}), "warns", "What is in a coat is sanded out before the next", lambda c: f"{c.of_finding.sentence}: sand it out when it is hard.", "mend", COATS
    ),
    "loose-film": Holds(
        "film", frozenset({"lifts", "peels", "blistered", "cracks"}), "stops", "Nothing holds on a film that is loose", lambda c: f"{c.of_finding.sentence}: off as far as it does not hold, its edge feathered, before anything goes over it.", "mend", COATS
    ),
    "off-look": Holds(
        "film", frozenset({"blush", "dull", "mottled", "bleeds"}), "warns", "What is seen in a coat is put right before it is covered", lambda c: f"{c.of_finding.sentence}: put it right first, it shows through what comes over it.", "mend", COATS
    ),
    "seam-under": Holds(
        "seams", frozenset({"under"}), "warns", "Under-filled seams are topped up", lambda c: "A seam is under-filled: top it up and tool it, or it is work to do again at hand-over.", "seal-first",
        COLOUR | {StepKind.TEXTURE, StepKind.CLOSE},
    ),
    "spit": Holds(
        "film", frozenset({"spit", "scratch", "shows"}), "stops", "What a lamp shows is put right before the mid-coats",
        lambda c: f"{c.of_finding.sentence}: sand it out there, bring it back to full coverage; then the mid-coats.", "mend", frozenset({StepKind.MID, StepKind.CLEAR}),
    ),
    "torn": Holds(
        "film", frozenset({"torn"}), "warns", "A torn edge is brought back", lambda c: f"{c.of_finding.sentence}: feather it, prime what is bare, bring its colour back.", "mend", COATS
    ),
    "told-cut": Holds(
        "film", frozenset({"cut-through"}), "warns", "A cut-through is primed before colour", lambda c: f"{c.of_finding.sentence}: prime it first, its ring shows through.", "mend", COLOUR
    ),
}  # fmt: skip
"""Rule -> the finding that it is about."""


def _held(key: str, found: Holds) -> Callable[[Case], Iterator[Said]]:
    def check(c: Case) -> Iterator[Said]:
        mine = c.of_finding.topic == found.topic and not found.choices.isdisjoint(c.of_finding.choice.split("+"))
        if mine and not (key in ON_METAL and c.act.is_coat and c.face.covered):
            sentence = found.says(c)
            yield Said(sentence[:1].upper() + sentence[1:])

    return check


for _id, _each in _FOUND.items():
    rule(
        _id,
        Aspect.METAL if _id == "other-metal" else Aspect.FINDINGS,
        _each.severity,
        _each.title,
        "finding",
        kinds=_each.kinds,
        fix=_each.fix,
        source=_each.source,
    )(_held(_id, _each))


@rule("uncaused", Aspect.FINDINGS, "warns", "What made a fault is mended with it", kinds=COVERS, fix="mend")
def _uncaused(c: Case) -> Iterator[Said]:
    if not c.face.uncaused or (c.act.is_coat and c.face.covered):
        return
    for found in c.face.raw.uncaused:
        if found.cause:
            yield Said(
                f"{found.sentence}, put right; its cause is not: {CAUSES[found.cause][0].lower()}.", about=found.key
            )
        else:
            said = f"{found.sentence}, put right, but nobody named what made it: if that goes on, it comes back."
            yield Said(said, "advises", about=found.key)


@rule(
    "solder-out",
    Aspect.FINDINGS,
    "stops",
    "All lead goes",
    "finding",
    kinds=COVERS,
    school=("solder", "out"),
    fix="solder",
)
def _solder_out(c: Case) -> Iterator[Said]:
    if c.of_finding.topic == "solder" and c.of_finding.choice == "seam" and not c.face.covered:
        yield Said("A loaded seam, and in this school all lead goes: heat it out first; it blisters and bleeds.")


@rule("rust-under-film", Aspect.FINDINGS, "stops", "Rust under old film", kinds=COATS, fix="strip")
def _rust_under(c: Case) -> Iterator[Said]:
    if c.face.rust_open and any(g.what in {"old film", "crazed film"} for g in c.face.grounds):
        yield Said("Rust or blisters under the old film: back to sound metal, wider than the rust goes.")


@rule("thin-metal", Aspect.METAL, "warns", "Metal lost to rust", kinds=COVERS, fix="verdict")
def _thin_metal(c: Case) -> Iterator[Said]:
    lost = c.face.lost_share
    if lost >= THIN_WARNS and not c.face.duty:
        stops = lost >= THIN_STOPS - 1e-9
        what = "a verdict on the metal comes first" if stops else "it is thin; look at the other side"
        yield Said(f"{lost:.0%} of its thickness is gone: {what}.", "stops" if stops else "warns")


@rule(
    "watch-pipe",
    Aspect.METAL,
    "warns",
    "A sound pipe is treated and watched",
    kinds=COATS,
    school=("pipe", "watch"),
    fix="watch",
)
def _watch_pipe(c: Case) -> Iterator[Said]:
    pipe = c.face.duty in {"brake", "pressure"} and c.face.part == "tube" and c.face.end_state != "watched"
    if pipe and c.face.rust in set("BCD") and c.face.lost_share < THIN_UNDER_LOAD and not c.face.unsound:
        yield Said(
            "Surface rust only: treat it, leave it unpainted so that its decay can be seen, and set a day for the "
            "next look."
        )


@rule(
    "weld-unseen", Aspect.FINDINGS, "warns", "A weld is looked through before it is coated", kinds=COVERS, fix="inspect"
)
def _weld_unseen(c: Case) -> Iterator[Said]:
    if c.face.weld_unseen:
        yield Said(
            "Welded, and nobody has looked through it since: all round, burrs, pinholes against the light, the far "
            "side."
        )


@rule(
    "weld-faults",
    Aspect.FINDINGS,
    "stops",
    "Faults of a weld are mended before it is coated",
    kinds=COVERS,
    fix="inspect",
)
def _weld_faults(c: Case) -> Iterator[Said]:
    faults = c.face.weld_faults.split()
    for severity in SEVERITIES:
        found = [key for key in faults if POINTS[key].severity == severity]
        if found:
            said = "; ".join(f"{POINTS[key].name.lower()}, {POINTS[key].fault}: {POINTS[key].remedy}" for key in found)
            yield Said(f"{said[:1].upper()}{said[1:]}.", severity, about=severity)


@rule("bleeding", Aspect.COLOUR, "stops", "A bleeding colour is isolated", "ground", kinds=COATS, fix="isolate")
def _bleeding(c: Case) -> Iterator[Said]:
    if not c.on_ground.bleeds or c.act.product_kind in ISOLATES or c.on_ground.top == c.act.product:
        return
    if c.act.raw.kind == StepKind.CLEAR and c.on_ground.top:
        yield Said("A bleeding colour under clear: its dye can rise into it; a bleed test on a card first.", "advises")
    else:
        yield Said("A bleeding colour lies under it: isolate it with epoxy first.")


@rule(
    "mid-coats",
    Aspect.COLOUR,
    "warns",
    "The same number of mid-coats on all that must match",
    kinds={StepKind.MID, StepKind.CLEAR},
)
def _mid_coats(c: Case) -> Iterator[Said]:
    if c.act.tense == Tense.WAS or not c.face.mids:
        return
    (_, planned), *others = c.face.mids
    if c.face.chosen_mids is not None and c.act.tense == Tense.NOW:
        return  # the number that was chosen decides
    mine = max(planned, c.act.raw.coat) if c.act.raw.kind == StepKind.MID else planned
    if c.act.raw.kind == StepKind.CLEAR and c.act.tense == Tense.NOW:
        mine = c.face.mids_on
    apart = [f"{count} on {name}" for name, count in others if count != mine]
    if apart:
        coats = "mid-coat" if mine == 1 else "mid-coats"
        yield Said(f"{mine} {coats} here, {', '.join(apart)}: their shades will differ, plan the same on all.")


@rule("laminate-soft", Aspect.METAL, "advises", "Raw laminate is tender", kinds={StepKind.STRIP})
def _laminate(c: Case) -> Iterator[Said]:
    if c.face.substrate == "laminate" and c.act.tense != Tense.WAS:
        yield Said("Laminate: a test patch first; stop when strands show. Stripper soaks in.")
