"""Rules about putting a coat on: its window, the air it meets, the film, the pot and the tin it comes from."""

from collections.abc import Iterator
from functools import partial

from ..air.dewpoint import Breach
from ..air.sun import NIGHT_K
from ..product.film import dft_from_wft_um
from ..surface.names import StepKind
from ..surface.steps import STEPS
from ..words import film_q, hour_q, kelvin_q, lasting
from ..working import Basis
from .face import COATS, SANDS, Tense
from .registry import SHEET, Aspect, Said, rule
from .seen import Case

NEXT = COATS | {kind for kind, step in STEPS.items() if step.act}
"""Steps that a window of the film under them opens for."""
FOAMS_RH = 85.0
"""Humidity over which isocyanate foams [%]. Common practice, no source."""
THIRSTY = frozenset({"wash primer", "one-pack primer", "surfacer", "filler", "sprayable filler"})
"""Films that water gets into. Common practice, no source."""


@rule(
    "early", Aspect.WINDOW, "stops", "Nothing before the film under it is open", source=SHEET, kinds=NEXT, by_clock=True
)
def _early(c: Case) -> Iterator[Said]:
    early, clock = c.face.early_min, c.face.window
    if early > 0 and clock is not None:
        said = f": {lasting(early)} too early" if clock.opens_s is not None else ""
        yield Said(f"The film under it is not open for {clock.toward} yet{said}.")
    elif c.face.held_by_check:
        yield Said(f"The film under it is not open yet: {c.face.held_by_check}.")


@rule(
    "late",
    Aspect.WINDOW,
    "stops",
    "Nothing after the window has closed",
    source=SHEET,
    kinds=NEXT,
    fix="key",
    by_clock=True,
)
def _late(c: Case) -> Iterator[Said]:
    late, clock = c.face.late_min, c.face.window
    if late > 0 and clock is not None:
        key = f"key with {clock.grit} first" if clock.grit else "key first"
        yield Said(f"The window of the film under it has been closed for {lasting(late)}: {key}.")


@rule(
    "soft",
    Aspect.WINDOW,
    "stops",
    "Film is sanded once it can be",
    source=SHEET,
    kinds=SANDS | {StepKind.POLISH},
    by_clock=True,
)
def _soft(c: Case) -> Iterator[Said]:
    if c.face.soft and c.act.kind == StepKind.POLISH:
        yield Said("The film on it cannot be polished yet: it drags, and dulls again.")
    elif c.face.soft:
        yield Said("The film on it cannot be sanded yet: it tears and clogs.")


@rule("induction", Aspect.POT, "warns", "A pot is used once its induction is over", source=SHEET, kinds=COATS)
def _induction(c: Case) -> Iterator[Said]:
    early = c.act.early_pot_min
    if early > 0:
        yield Said(f"Its pot is used {lasting(early)} before induction is over.")


@rule("dead-pot", Aspect.POT, "stops", "A pot is used up before it is dead", source=SHEET, kinds=COATS, fix="mix")
def _dead_pot(c: Case) -> Iterator[Said]:
    late = c.act.late_pot_min
    if late > 0:
        yield Said(f"Its pot has been dead for {lasting(late)}.")


@rule(
    "unmixed", Aspect.POT, "warns", "Two parts are mixed before they are put on", source=SHEET, kinds=COATS, fix="mix"
)
def _unmixed(c: Case) -> Iterator[Said]:
    if c.act.unmixed:
        yield Said(f"{c.act.name} has parts to mix, and no pot is named: unmixed it never hardens.")


@rule("out-of-date", Aspect.POT, "warns", "Batches in date", "tin", "the tin", COATS)
def _out_of_date(c: Case) -> Iterator[Said]:
    if c.of_tin.past_days > 0 and c.of_tin.raw.use_by:
        yield Said(f"{c.of_tin.raw.name} is out of date: use by {c.of_tin.raw.use_by:%d %b %Y}.")


@rule("recalled", Aspect.POT, "stops", "No batch that is recalled", "tin", "the tin", COATS)
def _recalled(c: Case) -> Iterator[Said]:
    if c.of_tin.recalled:
        yield Said(f"{c.of_tin.raw.name} is of a batch that is recalled: {c.of_tin.recalled}.")


@rule("unmatched", Aspect.POT, "warns", "Base and hardener of one kit", kinds=COATS)
def _unmatched(c: Case) -> Iterator[Said]:
    if len(c.act.kits) > 1:
        yield Said(f"Its parts came in different kits, {' and '.join(c.act.kits)}: makers match them by the batch.")


@rule("short", Aspect.POT, "warns", "The store has what a pot takes", kinds=COATS)
def _short(c: Case) -> Iterator[Said]:
    for part in c.act.parts:
        if part.lacks:
            yield Said(f"Of {part.name} {part.lacks} of {part.wanted} are not in the store’s tins in date.")


@rule("reserve", Aspect.POT, "warns", "What is kept for something to come stays", kinds=COATS)
def _reserve(c: Case) -> Iterator[Said]:
    for part in c.act.parts:
        if part.kept:
            yield Said(f"It takes of {part.name} what is kept: {part.kept}.")


@rule("two-batches", Aspect.POT, "warns", "One batch of colour on one panel", kinds=COATS)
def _two_batches(c: Case) -> Iterator[Said]:
    for part in c.act.parts:
        others = [batch for batch in part.batches if part.there and batch != part.there]
        if others:
            names = " and ".join(others)
            yield Said(f"{part.name} comes of batch {names}; batch {part.there} is on this panel: shades differ.")


_AIR: dict[str, tuple[str, str, str]] = {
    "dew": ("stops", "The surface is clear of the dew point", "ISO 8502-4 practice"),
    "damp": ("stops", "Not in damper air than the sheet allows", SHEET),
    "cold": ("stops", "Not colder than the sheet allows", SHEET),
    "hot": ("warns", "Not hotter than the sheet allows", SHEET),
    "dry": ("warns", "Not in drier air than the sheet allows", SHEET),
}


def _night(breach: Breach, c: Case) -> str:
    fit = c.act.raw.fit
    if fit is None or not fit.night or breach.what not in {"spread", "surface"}:
        return ""
    return f" Outdoors at night its metal is taken {kelvin_q(NIGHT_K, digits=0)} under the air, assumed."


def _air(which: str, c: Case) -> Iterator[Said]:
    word = "damp" if which == "dew" else which
    for breach in c.act.broken(which):
        yield Said(f"Too {word}: {breach.seen_from(c.act.raw.began_s or 0.0)}.{_night(breach, c)}", about=breach.what)


for _which, (_severity, _title, _source) in _AIR.items():
    rule(_which, Aspect.AIR, _severity, _title, source=_source, kinds=COATS, fix="wait")(partial(_air, _which))


@rule("blush", Aspect.AIR, "warns", "Dry and warm enough until it is hard", source=SHEET, kinds=COATS)
def _blush(c: Case) -> Iterator[Said]:
    fit = c.act.raw.fit
    for breach in c.act.broken_later():
        hard = f", hard about {hour_q(fit.hard_s)}" if fit and fit.hard_s else ""
        yield Said(
            f"While it dries: {breach.sentence} at {hour_q(breach.t_s)}{hard}: it may blush.{_night(breach, c)}",
            about=breach.what,
        )


@rule(
    "thin", Aspect.FILM, "warns", "A coat is not thinner than its sheet asks for", source=SHEET, kinds=COATS, fix="film"
)
def _thin(c: Case) -> Iterator[Said]:
    limits = c.act.sheet.film if c.act.sheet else None
    least = limits.min_um if limits else None
    if least is not None and c.act.raw.film and c.act.thin_um < least - 0.5:
        yield Said(f"{film_q(c.act.thin_um)} dry, the sheet asks for at least {film_q(least, unit=False)}.")


@rule(
    "gauged-thin",
    Aspect.FILM,
    "warns",
    "Film that a gauge found too thin is added to first",
    source=SHEET,
    kinds=COATS | SANDS,
    fix="gauge",
)
def _gauged_thin(c: Case) -> Iterator[Said]:
    thin = c.face.thin_by_gauge
    if thin is None or (c.act.is_coat and c.act.product == thin[0]):
        return
    asked = film_q(thin[1], unit=False)
    yield Said(f"{thin[0]} is {film_q(c.face.gauged_um)} where a gauge found it thinnest; at least {asked} is asked.")


@rule(
    "thick", Aspect.FILM, "warns", "A coat is not thicker than its sheet allows", source=SHEET, kinds=COATS, fix="film"
)
def _thick(c: Case) -> Iterator[Said]:
    limits = c.act.sheet.film if c.act.sheet else None
    most = limits.max_um if limits else None
    if most is not None and c.act.film_um > most + 0.5:
        yield Said(f"{film_q(c.act.film_um)} dry, the sheet allows at most {film_q(most, unit=False)}.")


@rule("sag", Aspect.FILM, "warns", "Wet film under the sag limit", source=SHEET, kinds=COATS)
def _sag(c: Case) -> Iterator[Said]:
    limits = c.act.sheet.film if c.act.sheet else None
    if limits and limits.sag_wft_um and c.act.wet_um > limits.sag_wft_um:
        dry = ""
        if c.act.raw.solids_pct:
            um = dft_from_wft_um(limits.sag_wft_um, c.act.raw.solids_pct, c.act.raw.thinner_pct)
            dry = f" ({film_q(um)} dry)"
        yield Said(f"{film_q(c.act.wet_um)} wet, it sags above {film_q(limits.sag_wft_um, unit=False)}{dry}.")


@rule(
    "too-much",
    Aspect.FILM,
    "warns",
    "All its coats stay under what the sheet allows",
    source=SHEET,
    kinds=COATS,
    fix="fewer",
)
def _too_much(c: Case) -> Iterator[Said]:
    most = c.act.sheet.most_um if c.act.sheet else None
    if most is not None and c.face.same_um > most + 0.5:
        yield Said(
            f"{c.act.name} comes to {film_q(c.face.same_um)} with this coat; the sheet allows "
            f"{film_q(most, unit=False)} in all."
        )


@rule(
    "stack-thick",
    Aspect.FILM,
    "warns",
    "The stack stays under what its system allows",
    source="the system",
    kinds=COATS,
    fix="fewer",
)
def _stack_thick(c: Case) -> Iterator[Said]:
    most = c.face.most_um
    if most is not None and c.face.total_um > most + 0.5:
        yield Said(
            f"All layers come to {film_q(c.face.total_um)} with this one; the system allows {film_q(most, unit=False)}."
        )


@rule(
    "cut-through",
    Aspect.FILM,
    "stops",
    "Sanding does not go through a layer",
    source="the plan’s films",
    kinds=COATS,
    fix="more",
)
def _cut_through(c: Case) -> Iterator[Said]:
    layer_um = c.act.raw.layer_um
    if layer_um is not None and 0 < layer_um <= c.act.sanded_um:
        yield Said(
            f"{c.act.name}: blocking takes {film_q(c.act.sanded_um)} of {film_q(layer_um, unit=False)}: cut through."
        )


@rule("foams", Aspect.AIR, "warns", "Isocyanates foam and lacquer whitens in damp air", kinds=COATS, fix="wait")
def _foams(c: Case) -> Iterator[Said]:
    for breach in c.act.broken("usual"):
        iso = "isocyanate" in c.act.hazards
        why = "isocyanate foams and goes dull" if iso else "lacquer from a can whitens"
        stops = iso and breach.value > FOAMS_RH
        said = f"Too damp: {breach.seen_from(c.act.raw.began_s or 0.0)} is usual, its sheet says nothing: {why}."
        yield Said(said, "stops" if stops else "")


@rule("reducer", Aspect.POT, "warns", "Thinned with what its sheet names", source=SHEET, kinds=COATS, fix="mix")
def _reducer(c: Case) -> Iterator[Said]:
    if c.act.reducer == "alcohol" and "isocyanate" in c.act.hazards:
        yield Said(
            f"{c.act.name} was thinned with alcohol in it: isocyanate takes the alcohol, and it never hardens.", "stops"
        )
    elif c.act.reducer:
        yield Said(f"{c.act.name} was thinned with what its sheet does not name: test it on a card first.")


@rule(
    "blush-wash",
    Aspect.CLEAN,
    "stops",
    "Blush is washed off before anything",
    "ground",
    kinds=COATS | SANDS,
    fix="rinse",
)
def _blush_wash(c: Case) -> Iterator[Said]:
    basis = c.on_ground.blush
    if basis:
        sure = "" if basis == Basis.MEASURED else ", by air that nobody measured,"
        yield Said(
            f"The epoxy met cold, damp or dew{sure} before it was hard: wash blush off with water and a pad, dry it.",
            "stops" if not sure else "warns",
        )


@rule(
    "not-waterproof",
    Aspect.CLEAN,
    "warns",
    "Primer, surfacer and filler are not waterproof",
    "ground",
    kinds=COATS | SANDS,
)
def _not_waterproof(c: Case) -> Iterator[Said]:
    what = c.on_ground.what
    if what not in THIRSTY:
        return
    wet = c.on_ground.got_wet
    if wet and what == "wash primer":
        yield Said(
            "The wash primer got wet: its acid blisters under any coat. Off, to the metal, and again.", "stops", "strip"
        )
    elif wet and "filler" in what:
        yield Said(
            "The filler got wet and holds water: dry it right through, with heat, before anything.",
            "stops",
            "dry-check",
        )
    elif wet or c.on_ground.nights >= 1:
        said = "got wet" if wet else f"was outdoors for {_nights(c.on_ground.nights)}"
        yield Said(
            f"The {what} {said}: it is not waterproof. Warm it dry, look for rust and blisters, key it again.",
            fix="dry-check",
        )


def _nights(count: int) -> str:
    return "a night" if count == 1 else f"{count} nights"


@rule("dust-beside", Aspect.CLEAN, "warns", "No dry sanding beside a tacky film", kinds=SANDS, fix="wait")
def _dust_beside(c: Case) -> Iterator[Said]:
    if c.act.tense == Tense.NOW and c.face.tacky_beside:
        which = "; ".join(f"{name} until {hour_q(until_s)}" for name, until_s in c.face.tacky_beside)
        yield Said(f"Film beside it takes up dust: {which}. Sand wet, elsewhere, or wait.")


@rule("air-line", Aspect.CLEAN, "advises", "The air line is drained once a day", kinds=COATS, fix="air-line")
def _air_line(c: Case) -> Iterator[Said]:
    if c.act.tense != Tense.NOW or not c.act.sprayed or c.face.raw.air_line is None:
        return
    if c.face.air_line is False:
        yield Said("Oil or water in the air line makes craters: drain it, change the filter, look again.", "stops")
    elif c.face.air_line is None:
        yield Said("Nobody has drained the air line today, nor blown it on a mirror for oil.")


AIR_UNKNOWN, IN_THE_SUN = "nobody logged the air: it is assumed", "no surface measured in the sun: how hot it gets"


def unknown_air(c: Case) -> str:
    """What of the air is not known, "" if all of it is."""
    fit = c.act.raw.fit
    if fit is None:
        return "no air here: say where it stands" if not c.face.raw.has_air else "no data sheet to hold the air against"
    if fit.basis is Basis.ASSUMED:
        return AIR_UNKNOWN
    if fit.sun and c.act.sheet is not None and c.act.sheet.limits.surface_c[1] is not None:
        return IN_THE_SUN
    return ""
