"""Rules about the whole of a plan: what comes before what, what is missing in it, what its last coat is.

They look at an act with what its plan has before and after it; acts of no plan are not looked at. Common practice, no
source, but where one is named.
"""

from collections.abc import Iterator

from ..product.kinds import FILLER_MM, FILLERS, LIFT_MM, ProductKind
from ..surface.names import COLOUR, StepKind
from ..words import length_q
from .face import CAVITIES, COATS, Tense
from .registry import Aspect, Said, rule
from .seen import Case

PRIMES = frozenset({StepKind.PRIME, StepKind.ENCAPSULATE})
UNIFORM = frozenset({"sealer", "base coat", "single-stage colour"})
"""What a translucent colour goes over: one uniform layer. Common practice, no source."""
CHALKS = frozenset({ProductKind.EPOXY_PRIMER, ProductKind.EPOXY_MASTIC, ProductKind.ENCAPSULATOR})
"""Kinds that sunlight chalks. Common practice, no source."""


LACKS = frozenset({"texture-last", "stripe", "last-chalks", "wax-outside-missing", "wax-inside-missing", "clear-cut"})
"""Rules about what a plan lacks: silent once its act was done."""


def _to_come(c: Case) -> bool:
    """True for an act of a plan that is still to come: what a plan lacks is said while it can be changed."""
    return c.act.in_plan and c.act.tense != Tense.WAS


@rule(
    "seams-first",
    Aspect.UNDER,
    "stops",
    "Seams are sealed before texture and colour",
    kinds=COLOUR | {StepKind.TEXTURE},
    fix="seal-first",
)
def _seams_first(c: Case) -> Iterator[Said]:
    if c.act.later(StepKind.SEAM_SEAL):
        what = "texture" if c.act.raw.kind == StepKind.TEXTURE else "colour"
        yield Said(f"Seam sealer comes later in the plan: seal first, then {what}, or the sealer shows and peels.")
    elif c.face.seams_open and not c.act.earlier(StepKind.SEAM_SEAL):
        yield Said("Its seams are open or their sealer is cracked, and no sealer is planned.", "warns", "seal-first")


@rule(
    "texture-last",
    Aspect.COLOUR,
    "warns",
    "Texture is painted over",
    kinds={StepKind.TEXTURE},
    school=("texture", "painted"),
    fix="overpaint",
)
def _texture_last(c: Case) -> Iterator[Said]:
    sheet = c.act.sheet
    if _to_come(c) and not c.act.later(*COLOUR) and not (sheet and sheet.final):
        yield Said(
            "Texture would be the last coat: it takes up dirt and water, paint over it, or use one made to be last."
        )


@rule(
    "texture-painted", Aspect.COLOUR, "advises", "Texture stays the last coat", kinds=COLOUR, school=("texture", "last")
)
def _texture_painted(c: Case) -> Iterator[Said]:
    if any(g.what == "texture" for g in c.face.grounds):
        yield Said("In this school texture is the last coat: paint stiffens it, and it cracks off.")


@rule(
    "undertone",
    Aspect.COLOUR,
    "warns",
    "A uniform layer under a translucent colour",
    kinds=COLOUR - {StepKind.CLEAR},
    fix="seal",
)
def _undertone(c: Case) -> Iterator[Said]:
    if c.act.sheet is None or not c.act.sheet.translucent:
        return
    tops = c.face.tops
    if len(tops) > 1:
        yield Said(f"{c.act.name} is translucent, and {' and '.join(tops)} show through it: one uniform layer first.")
    elif not {g.what for g in c.face.grounds} <= UNIFORM:
        yield Said(
            f"{c.act.name} is translucent: it takes the shade of {' and '.join(tops)}; seal in its undertone first."
        )


@rule("filler-lift", Aspect.FILM, "stops", "Filler no deeper than one lift takes", kinds={StepKind.FILL}, fix="lifts")
def _filler_lift(c: Case) -> Iterator[Said]:
    if c.act.product_kind not in FILLERS:
        return
    told = c.act.sheet.lift_mm if c.act.sheet else None
    lift = told or LIFT_MM
    if c.act.film_um > 1000 * lift + 0.5:
        whose = "its sheet takes" if told else "the usual is"
        yield Said(
            f"{length_q(c.act.film_um / 1000)} in one lift, {whose} {length_q(lift, unit=False)}: it cures hot, "
            "shrinks and cracks. In lifts, each cured."
        )


@rule("filler-deep", Aspect.FILM, "stops", "Filler no deeper than it may be in all", kinds={StepKind.FILL}, fix="fewer")
def _filler_deep(c: Case) -> Iterator[Said]:
    most = c.act.sheet.most_um if c.act.sheet else None
    if c.act.product_kind in FILLERS and most is None and c.face.same_um > 1000 * FILLER_MM + 0.5:
        yield Said(
            f"{length_q(c.face.same_um / 1000)} of filler in all, the usual most is {length_q(FILLER_MM, unit=False)}: "
            "move the metal, or solder it."
        )


@rule("stripe", Aspect.FILM, "advises", "Edges and welds have a stripe coat", kinds=PRIMES, fix="stripe")
def _stripe(c: Case) -> Iterator[Said]:
    if not _to_come(c) or c.act.raw.coat > 1 or c.act.brushed or not (c.face.has_edges or c.face.welded):
        return
    if not (c.act.earlier(*PRIMES) or c.act.earlier(StepKind.STRIPE) or c.act.later(StepKind.STRIPE)):
        what = "edges, welds and drain holes" if c.face.has_edges else "welds"
        yield Said(f"No stripe coat is planned: film draws back from {what}, brush them once more.")


@rule("last-chalks", Aspect.UNDER, "warns", "Epoxy is not the last coat in sunlight", kinds=COATS, fix="overpaint")
def _last_chalks(c: Case) -> Iterator[Said]:
    last = _to_come(c) and not c.act.later(*COATS)
    if last and c.act.product_kind in CHALKS and c.face.outdoors:
        yield Said(
            f"{c.act.name} would be the last coat: in sunlight it chalks. Something over it, or keep it in shade."
        )


@rule(
    "drain-after",
    Aspect.ACCESS,
    "warns",
    "Drains are probed again after the last coat",
    kinds={StepKind.CLOSE, StepKind.WAX},
    fix="drains",
)
def _drain_after(c: Case) -> Iterator[Said]:
    if c.act.tense == Tense.PLAN:
        return
    if c.face.drains_probed is False:
        yield Said("A drain is shut by paint or sealer: open it before the cavity is.", "stops")
        return
    marks = c.face.drains_unseen
    if marks:
        which = f"Drain {marks} has" if "," not in marks else f"Drains {marks} have"
        yield Said(f"{which} not been probed since the last coat: paint and sealer shut drains.")


@rule(
    "wax-outside",
    Aspect.UNDER,
    "warns",
    "No wax on the outer underside",
    kinds={StepKind.WAX},
    school=("wax-out", "no"),
)
def _wax_outside(c: Case) -> Iterator[Said]:
    if c.face.below and c.face.part not in CAVITIES:
        yield Said(
            "In this school the outer underside takes no wax: it holds grit and hides rust; leave the coat bare."
        )


@rule(
    "wax-outside-missing",
    Aspect.UNDER,
    "advises",
    "Wax on the outer underside",
    kinds=COATS,
    school=("wax-out", "yes"),
    fix="wax",
)
def _wax_outside_missing(c: Case) -> Iterator[Said]:
    last = _to_come(c) and not c.act.later(*COATS)
    if last and c.face.below and c.face.part not in CAVITIES and c.act.raw.kind != StepKind.WAX:
        yield Said("In this school the outer underside is waxed last, and no wax is planned.")


@rule(
    "wax-inside-missing",
    Aspect.ACCESS,
    "warns",
    "Wax in cavities",
    kinds={StepKind.CLOSE},
    school=("wax-in", "yes"),
    fix="wax",
)
def _wax_inside_missing(c: Case) -> Iterator[Said]:
    waxed = any(g.what == "wax" for g in c.face.grounds)
    if _to_come(c) and c.face.part in CAVITIES and not waxed and not c.act.later(StepKind.WAX):
        yield Said("No cavity wax is planned: film does not reach laps and edges inside.")


@rule(
    "wax-before-weld",
    Aspect.SAFETY,
    "stops",
    "No wax before the last weld",
    kinds={StepKind.WAX},
    fix="turn",
    harm=True,
)
def _wax_before_weld(c: Case) -> Iterator[Said]:
    if _to_come(c) and c.act.later(StepKind.WELD):
        yield Said("A weld comes later in the plan: wax burns there, and nothing holds where it lay. Weld first.")


@rule("wax-inside", Aspect.UNDER, "warns", "No wax in cavities", kinds={StepKind.WAX}, school=("wax-in", "no"))
def _wax_inside(c: Case) -> Iterator[Said]:
    if c.face.part in CAVITIES:
        yield Said("In this school cavities are painted, not waxed: wax burns at the next weld and lets nothing hold.")


@rule(
    "clear-once", Aspect.UNDER, "advises", "All clear in one window", kinds={StepKind.CLEAR}, school=("clear", "once")
)
def _clear_once(c: Case) -> Iterator[Said]:
    if any(g.what == "clear coat" and g.patch.keyed_s is not None for g in c.face.grounds):
        yield Said("In this school all clear goes on in one window: a second layer over cut clear can delaminate.")


@rule(
    "clear-cut",
    Aspect.UNDER,
    "advises",
    "Clear, cut flat, clear again",
    kinds={StepKind.CLEAR},
    school=("clear", "cut"),
    fix="clear-again",
)
def _clear_cut(c: Case) -> Iterator[Said]:
    if not _to_come(c) or not c.face.show or c.act.raw.coat > 1:
        return
    if not (c.act.earlier(StepKind.CLEAR) or c.act.later(StepKind.CLEAR)):
        yield Said("In this school clear is cut flat and cleared again, and one layer of it is planned.")
