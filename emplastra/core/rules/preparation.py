"""Rules about what has to be done before a coat: stripped, keyed, acid out, dry, wiped, not too long bare.

Common practice, no source, but where one is named.
"""

from collections.abc import Iterator

from ..metal.strip import WAYS
from ..product.kinds import ProductKind
from ..surface.names import StepKind
from ..words import film_q, lasting
from .face import COATS
from .registry import Aspect, Said, rule
from .seen import Case

PORTIONS_APART_H = 12.0
"""Portions bared this far apart [h] are looked at apart."""
ON_SMOOTH = frozenset({ProductKind.CONVERTER, ProductKind.CONVERTING_PRIMER, ProductKind.CAVITY_WAX})
"""Kinds that want no key. Common practice, no source."""
ON_RUST = frozenset({ProductKind.EPOXY_MASTIC, ProductKind.ENCAPSULATOR})
"""Kinds that want no key on tight rust. Common practice, no source."""
TIGHT_RUST = "tight rust"
OPEN_KINDS = frozenset({"base coat", "one-pack primer", "alkyd enamel"})
"""Films that a wipe harms while they are open. Common practice, no source."""


@rule("not-stripped", Aspect.PREPARATION, "stops", "Stripped, or the old film looked at", "ground", kinds=COATS)
def _not_stripped(c: Case) -> Iterator[Said]:
    if c.on_ground.what == "as found" and c.face.raw.strip_due:
        yield Said(f"Not stripped yet: {c.act.name} would go on what was found there.", fix="strip")


def _wants_key(c: Case) -> str:
    """The way that left the ground smooth under something that wants a key, "" otherwise."""
    kind, ground = c.act.product_kind, c.on_ground
    if not kind or kind in ON_SMOOTH or (kind in ON_RUST and ground.what == TIGHT_RUST):
        return ""
    return ground.smooth


@rule(
    "burnished",
    Aspect.PREPARATION,
    "stops",
    "Wire-wheeled metal is keyed before it is coated",
    "ground",
    kinds=COATS,
    school=("burnish", "key-first"),
    fix="key",
)
def _burnished(c: Case) -> Iterator[Said]:
    if _wants_key(c) == "wire-wheel":
        yield Said("A wire wheel polishes: key it by hand (P120), degrease, then coat.")


@rule(
    "wheel-needs-prep",
    Aspect.PREPARATION,
    "warns",
    "Wire-wheeled metal wants pad and acid prep",
    "ground",
    kinds=COATS,
    school=("burnish", "wheel-keys"),
    fix="key",
)
def _wheel_needs_prep(c: Case) -> Iterator[Said]:
    if _wants_key(c) == "wire-wheel" and not c.on_ground.prepped:
        yield Said("Wire-wheeled: a non-woven pad and acid prep count as its key; neither is logged.")


@rule(
    "smooth", Aspect.PREPARATION, "stops", "Smooth metal is keyed before it is coated", "ground", kinds=COATS, fix="key"
)
def _smooth(c: Case) -> Iterator[Said]:
    way = _wants_key(c)
    if way and way != "wire-wheel":
        _, high = WAYS[way].profile_um
        name = WAYS[way].name
        by = f"{name[:1].lower()}{name[1:]}"
        yield Said(f"Smooth from {by}: {film_q(high)} of profile at most. Key it by hand (P120), degrease.")


@rule("burnt", Aspect.PREPARATION, "stops", "Film burnt off by a weld", "ground", kinds=COATS, fix="key-strip")
def _burnt(c: Case) -> Iterator[Said]:
    if c.on_ground.lost_by == "weld" and not c.on_ground.keyed:
        yield Said(f"A weld took the film off {c.face.burnt_share:.0%} of this face: grind and key that strip first.")


@rule(
    "acid-stands",
    Aspect.CLEAN,
    "stops",
    "Acid is rinsed off before anything",
    kinds=COATS | {StepKind.ABRADE, StepKind.CLOSE},
    fix="rinse",
    by_clock=True,
)
def _acid_stands(c: Case) -> Iterator[Said]:
    acid = c.face.stands_acid
    if not acid:
        return
    work = c.face.landed.treatment
    if work is not None and work.sheet is not None and work.sheet.wipe_and_leave:
        yield from _left_on(c, acid)
        return
    yield Said(f"{acid} stands on it and was not rinsed: nothing holds on it.")


def _left_on(c: Case, acid: str) -> Iterator[Said]:
    """What goes over acid that its own sheet leaves on."""
    kind = c.act.product_kind
    word = {str(ProductKind.ONE_K_PRIMER): "", str(ProductKind.WASH_PRIMER): "warns"}.get(kind, "stops")
    said = dict(c.act.sheet.over) if c.act.sheet else {}
    if word and not said.get("kind:acid-prep") and not said.get(f"product:{acid}"):
        yield Said(f"{acid} was wiped and left: {c.act.name} wants it rinsed, unless its sheet says otherwise.", word)


@rule(
    "acid-dried",
    Aspect.CLEAN,
    "stops",
    "Acid that dried is wetted again, then rinsed",
    "ground",
    kinds=COATS,
    fix="wet",
)
def _acid_dried(c: Case) -> Iterator[Said]:
    if c.on_ground.acid_dried:
        yield Said(f"{c.on_ground.acid_dried} dried on it: wet it with the same acid again, then rinse.")


@rule("acid-short", Aspect.CLEAN, "warns", "Acid stands as long as its sheet asks", "ground", kinds=COATS, fix="acid")
def _acid_short(c: Case) -> Iterator[Said]:
    short = c.on_ground.patch.acid.short_min if c.on_ground.patch.acid else None
    if short is not None and c.on_ground.acid_short_min > 0:
        yield Said(f"The acid stood {short[0]:.0f} of its {short[1]:.0f} min: it has not done its work.")


@rule("still-wet", Aspect.CLEAN, "stops", "Metal is dry before it is coated", kinds=COATS, fix="dry", by_clock=True)
def _still_wet(c: Case) -> Iterator[Said]:
    if c.face.wet:
        yield Said("It was rinsed and is not dry yet: blow it dry, look into laps and seams.")


@rule("not-wiped", Aspect.CLEAN, "warns", "Wiped before it is coated", "ground", kinds=COATS, fix="wipe")
def _not_wiped(c: Case) -> Iterator[Said]:
    if c.on_ground.wipe_asked and c.on_ground.wiped_min < 0:
        since = "keyed" if c.on_ground.keyed else "bared" if c.on_ground.bare else "left"
        yield Said(f"Not wiped since it was {since}: grease and dust under {c.act.name}.")


@rule("stale-wipe", Aspect.CLEAN, "warns", "A wipe holds for an hour", "ground", kinds=COATS, fix="wipe")
def _stale_wipe(c: Case) -> Iterator[Said]:
    if c.on_ground.wipe_asked and c.on_ground.wipe_is_stale:
        yield Said("Its wipe is more than an hour old: wipe it again.")


@rule("wipe-harms", Aspect.CLEAN, "warns", "No wipe between coats in their window", "ground", kinds={StepKind.DEGREASE})
def _wipe_harms(c: Case) -> Iterator[Said]:
    if c.on_ground.what in OPEN_KINDS and c.on_ground.open_film:
        yield Said(f"A wipe lifts open {c.on_ground.what}: tack it off dry, or wait until it is keyed.")


@rule(
    "bare-overdue",
    Aspect.BARE,
    "warns",
    "Metal bare past its limit",
    source="ours: 24, 6, 3, 1 h at 40, 60, 75, 85 %",
    kinds=COATS | {StepKind.CLOSE},
    fix="key",
    by_clock=True,
)
def _bare_overdue(c: Case) -> Iterator[Said]:
    hours = c.face.overdue_h
    if hours <= 0 or c.face.end_state != "coated":
        return
    late = f"Bare past its limit by {lasting(60 * hours)}"
    if c.face.rust_seen:
        yield Said(f"{late}, and rust was seen: abrade it again, wipe it, coat it at once.", "stops")
    elif c.face.wetted:
        what = {"rinsed": "it was wetted", "dew": "dew lay on it"}[c.face.wetted]
        yield Said(f"{late}, and {what} since: abrade it again, wipe it, coat it at once.", "stops")
    else:
        seen = "; no flash rust was seen" if c.face.rust_seen is False else ": look for flash rust"
        yield Said(f"{late}{seen}: abrade it lightly, wipe it, coat it today.")


@rule("portions", Aspect.BARE, "warns", "One end bare for longer than the other", kinds=COATS, fix="key")
def _portions(c: Case) -> Iterator[Said]:
    if c.face.apart_h >= PORTIONS_APART_H and c.face.end_state == "coated":
        hours = sorted(h for h, _ in c.face.portions)
        oldest = max(c.face.portions)
        yield Said(
            f"{oldest[1]:.0%} of it has been bare for {hours[-1]:.0f} h, the rest for {hours[0]:.0f} h: prime "
            f"in sections, or abrade the oldest again."
        )
