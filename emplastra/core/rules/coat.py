"""Rules about a coat that was, or is about to be, put on: its window, pot, air, film and batches."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property, partial

from ..air.dewpoint import Breach
from ..air.journey import Journey
from ..air.sun import NIGHT_K
from ..product.film import Film, dft_from_wft_um
from ..product.sheet import Sheet
from ..surface.clocks import recoat_clock
from ..surface.fit import Fit
from ..surface.fold import Clock, Surface, Toward
from ..surface.names import Status
from ..words import TOLD_S, film_q, hour_q, kelvin_q
from ..working import Basis
from .registry import Said, Verdict, judge, rule

SHEET = "data sheet"


@dataclass(frozen=True)
class PotTimes:
    """A pot's clock [epoch s]: usable from the end of induction to the end of its life."""

    usable_s: float | None
    dead_s: float | None


@dataclass(frozen=True)
class CoatCase:
    """A coat with what it is judged by. Times in epoch s.

    before: the surface as it was when it began; fit: what the air says of it and of its drying; film and the solids,
    thinner [%], mean wet film [µm] behind it; batches: (name, use by) on the day `on`.
    """

    product: str
    sheet: Sheet | None
    began_s: float
    ended_s: float
    before: Surface
    where: Journey
    film: Film
    fit: Fit = field(default_factory=Fit)
    solids_pct: float = 0.0
    thinner_pct: float = 0.0
    wft_um: float | None = None
    pot: PotTimes | None = None
    batches: tuple[tuple[str, date | None], ...] = ()
    on: date = date.min

    @cached_property
    def clock(self) -> Clock | None:
        """The window of the layer under it, toward this coat."""
        assert self.sheet is not None
        return recoat_clock(self.before, self.where, Toward(self.product, self.sheet.kind))


def looked_at(case: CoatCase) -> tuple[str, ...]:
    """What of a coat was held against its sheet: its air, its film and the window of a coat under it, as far as
    there are any.
    """
    if case.sheet is None:
        return ()
    film = ("film as planned" if case.film.basis is Basis.ASSUMED else "film",) if case.sheet.film else ()
    return ("air", *film, *(("window",) if case.clock is not None else ()))


def verdicts(case: CoatCase, about: str, off: frozenset[str] = frozenset()) -> list[Verdict]:
    """All that is to be said of a coat; without a sheet that is "cannot say", never clean."""
    return judge("coat" if case.sheet else "unknown-coat", case, about, off=off)


def _span(seconds: float) -> str:
    minutes = round(abs(seconds) / 60)
    return f"{minutes} min" if minutes < 120 else f"{minutes / 60:.0f} h"


def _minute(t_s: float | None) -> int | None:
    return None if t_s is None else round(t_s / 60)


@rule("cannot-say", "unknown-coat", "advises", "A product without a data sheet", "no data sheet")
def _cannot_say(c: CoatCase) -> Iterator[Said]:
    yield Said(f"Cannot say: no data sheet for {c.product}.", {"product": c.product})


@rule("no-window", "coat", "advises", "What the sheet gives no window for is not judged", SHEET)
def _no_window(c: CoatCase) -> Iterator[Said]:
    if c.clock is not None and c.clock.status == Status.UNJUDGED:
        yield Said(f"Not judged: {c.clock.note}.", {"note": c.clock.note})


@rule("early", "coat", "stops", "No coat before the one under it is open", SHEET)
def _early(c: CoatCase) -> Iterator[Said]:
    clock = c.clock
    if clock is None or clock.status == Status.UNJUDGED:
        return
    if clock.opens_s is None or c.began_s <= clock.opens_s - TOLD_S:
        early = "" if clock.opens_s is None else f" by {_span(clock.opens_s - c.began_s)}"
        yield Said(
            f"Begun before the coat under it was open{early}.",
            {"opens": _minute(clock.opens_s), "began": _minute(c.began_s)},
        )


@rule("late", "coat", "stops", "No coat after the window of the one under it has closed", SHEET)
def _late(c: CoatCase) -> Iterator[Said]:
    clock = c.clock
    if (
        clock is not None
        and clock.status != Status.UNJUDGED
        and clock.closes_s is not None
        and c.ended_s >= clock.closes_s + TOLD_S
    ):
        key = f", key with {clock.grit} first" if clock.grit else ", key first"
        yield Said(
            f"Ended {_span(c.ended_s - clock.closes_s)} after the window closed{key}.",
            {"closes": _minute(clock.closes_s), "ended": _minute(c.ended_s)},
        )


@rule("induction", "coat", "warns", "A pot is used once its induction is over", SHEET)
def _induction(c: CoatCase) -> Iterator[Said]:
    usable = c.pot.usable_s if c.pot else None
    if usable is not None and c.began_s <= usable - TOLD_S:
        yield Said(
            f"Begun {_span(usable - c.began_s)} before induction was over.",
            {"usable": _minute(usable), "began": _minute(c.began_s)},
        )


@rule("dead-pot", "coat", "stops", "A pot is used up before it is dead", SHEET)
def _dead_pot(c: CoatCase) -> Iterator[Said]:
    dead = c.pot.dead_s if c.pot else None
    if dead is not None and c.ended_s >= dead + TOLD_S:
        yield Said(
            f"Put on from a pot that had been dead for {_span(c.ended_s - dead)}.",
            {"dead": _minute(dead), "ended": _minute(c.ended_s)},
        )


_AIR: dict[str, tuple[str, str, str]] = {
    "dew": ("stops", "The surface is clear of the dew point", "ISO 8502-4 practice"),
    "damp": ("stops", "Not in damper air than the sheet allows", SHEET),
    "cold": ("stops", "Not colder than the sheet allows", SHEET),
    "hot": ("warns", "Not hotter than the sheet allows", SHEET),
    "dry": ("warns", "Not in drier air than the sheet allows", SHEET),
}


def _breach_of(breach: Breach) -> str:
    low = breach.side == "low"
    return {"spread": "dew", "humidity": "dry" if low else "damp"}.get(breach.what, "cold" if low else "hot")


def _night(breach: Breach, c: CoatCase) -> str:
    if not c.fit.night or breach.what not in {"spread", "surface"}:
        return ""
    return f" Outdoors at night its metal is taken {kelvin_q(NIGHT_K, digits=0)} under the air, assumed."


def _air(which: str, c: CoatCase) -> Iterator[Said]:
    word = "damp" if which == "dew" else which
    for breach in c.fit.gate.breaches:
        if _breach_of(breach) == which:
            yield Said(
                f"Too {word}: {breach.seen_from(c.began_s)}.{_night(breach, c)}",
                {"what": breach.what, "value": round(breach.value, 1), "limit": breach.limit},
            )


for _which, (_severity, _title, _source) in _AIR.items():
    rule(_which, "coat", _severity, _title, _source)(partial(_air, _which))


@rule("air-unknown", "coat", "advises", "Air that nobody logged", "assumed")
def _air_unknown(c: CoatCase) -> Iterator[Said]:
    if c.fit.basis is Basis.ASSUMED:
        yield Said("Air not logged then: taken as assumed.", {"air": c.fit.basis.value})


@rule("blush", "coat", "warns", "Dry and warm enough until it is hard", SHEET)
def _blush(c: CoatCase) -> Iterator[Said]:
    broken = {_breach_of(b) for b in c.fit.gate.breaches}
    for breach in c.fit.later.breaches:
        which = _breach_of(breach)
        if which in {"dew", "damp", "cold"} and which not in broken:
            hard = f", hard about {hour_q(c.fit.hard_s)}" if c.fit.hard_s else ""
            yield Said(
                f"While it dries: {breach.sentence} at {hour_q(breach.t_s)}{hard}: it may blush.{_night(breach, c)}",
                {"later": breach.what, "value": round(breach.value, 1), "limit": breach.limit},
            )


@rule("sun", "coat", "advises", "A surface in the sun is measured", "ours")
def _sun(c: CoatCase) -> Iterator[Said]:
    if c.fit.sun and c.sheet and c.sheet.limits.surface_c[1] is not None:
        yield Said("Outdoors by day, no surface measured: how hot the sun makes it is not judged.", {"sun": True})


@rule("thin", "coat", "warns", "A coat is not thinner than its sheet asks for", SHEET)
def _thin(c: CoatCase) -> Iterator[Said]:
    limits = c.sheet.film if c.sheet else None
    if limits and c.film.basis is not Basis.ASSUMED and c.film.dft_um < limits.min_um - 0.5:
        yield Said(
            f"{film_q(c.film.dft_um)} dry, the sheet asks for at least {film_q(limits.min_um, unit=False)}.",
            {"um": round(c.film.dft_um)},
        )


@rule("thick", "coat", "warns", "A coat is not thicker than its sheet allows", SHEET)
def _thick(c: CoatCase) -> Iterator[Said]:
    limits = c.sheet.film if c.sheet else None
    if limits and c.film.dft_um > limits.max_um + 0.5:
        yield Said(
            f"{film_q(c.film.dft_um)} dry, the sheet allows at most {film_q(limits.max_um, unit=False)}.",
            {"um": round(c.film.dft_um)},
        )


@rule("sag", "coat", "warns", "Wet film under the sag limit", SHEET)
def _sag(c: CoatCase) -> Iterator[Said]:
    limits = c.sheet.film if c.sheet else None
    if limits and limits.sag_wft_um and c.wft_um is not None and c.wft_um > limits.sag_wft_um:
        dry = dft_from_wft_um(limits.sag_wft_um, c.solids_pct, c.thinner_pct)
        yield Said(
            f"{film_q(c.wft_um)} wet, it sags above {film_q(limits.sag_wft_um, unit=False)} ({film_q(dry)} dry).",
            {"wet": round(c.wft_um)},
        )


@rule("out-of-date", "coat", "warns", "Batches in date", "the tin")
def _out_of_date(c: CoatCase) -> Iterator[Said]:
    for name, use_by in c.batches:
        if use_by is not None and use_by < c.on:
            yield Said(f"{name} was out of date: use by {use_by:%d %b %Y}.", {"batch": name, "use_by": use_by})
