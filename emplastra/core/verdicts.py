"""What is to be said of a coat that was, or is about to be, put on. Computed, never stored."""

from dataclasses import dataclass
from datetime import date

from .air import Journey
from .clocks import recoat_clock
from .dewpoint import Gate
from .film import Film, dft_from_wft_um
from .sheets import Sheet
from .surface import Surface, Toward
from .working import Basis

SEVERITIES = ("stops", "warns", "advises")


@dataclass(frozen=True)
class Verdict:
    """A finding: stable id, severity, a sentence, what it rests on."""

    id: str
    severity: str
    sentence: str
    source: str = "data sheet"


@dataclass(frozen=True)
class PotTimes:
    """A pot's clock [epoch s]: usable from the end of induction to the end of its life."""

    usable_s: float | None
    dead_s: float | None


def _span(seconds: float) -> str:
    minutes = round(abs(seconds) / 60)
    return f"{minutes} min" if minutes < 120 else f"{minutes / 60:.0f} h"


def window_verdicts(before: Surface, where: Journey, toward: Toward, began_s: float, ended_s: float) -> list[Verdict]:
    """Early, late or unjudged: the coat [epoch s] against the window of the layer under it."""
    clock = recoat_clock(before, where, toward)
    if clock is None:
        return []
    if clock.status == "unjudged":
        return [Verdict("not-judged", "advises", f"Not judged: {clock.note}.")]
    found = []
    if clock.opens_s is None or began_s < clock.opens_s:
        early = "" if clock.opens_s is None else f" by {_span(clock.opens_s - began_s)}"
        found.append(Verdict("early", "stops", f"Begun before the coat under it was open{early}."))
    if clock.closes_s is not None and ended_s > clock.closes_s:
        key = f", key with {clock.grit} first" if clock.grit else ", key first"
        found.append(Verdict("late", "stops", f"Ended {_span(ended_s - clock.closes_s)} after the window closed{key}."))
    return found


def pot_verdicts(pot: PotTimes | None, began_s: float, ended_s: float) -> list[Verdict]:
    """A coat put on before induction was over or after the pot was dead."""
    found = []
    if pot and pot.usable_s is not None and began_s < pot.usable_s - 1:
        found.append(Verdict("induction", "warns", f"Begun {_span(pot.usable_s - began_s)} before induction was over."))
    if pot and pot.dead_s is not None and ended_s > pot.dead_s + 1:
        found.append(
            Verdict("dead-pot", "stops", f"Put on from a pot that had been dead for {_span(ended_s - pot.dead_s)}.")
        )
    return found


def air_verdicts(gate: Gate, basis: Basis) -> list[Verdict]:
    """Cold, hot, damp or dry air or surface, each at its worst."""
    found = []
    for breach in gate.breaches:
        name = {"spread": "damp", "humidity": "damp" if breach.side == "high" else "dry"}.get(
            breach.what, "cold" if breach.side == "low" else "hot"
        )
        source = "ISO 8502-4 practice" if breach.what == "spread" else "data sheet"
        found.append(
            Verdict(name, "stops" if name in {"damp", "cold"} else "warns", f"Too {name}: {breach.sentence}.", source)
        )
    if basis is Basis.ASSUMED:
        found.append(
            Verdict("air-unknown", "advises", "Air not logged then: taken from the workshop's assumption.", "assumed")
        )
    return found


def film_verdicts(
    sheet: Sheet, film: Film, solids_pct: float, thinner_pct: float, wft_um: float | None
) -> list[Verdict]:
    """Film of one coat against the sheet's range, wet film against its sag limit."""
    limits, found = sheet.film, []
    if limits is None:
        return []
    if film.basis is not Basis.ASSUMED and film.dft_um < limits.min_um - 0.5:
        found.append(
            Verdict("thin", "warns", f"{film.dft_um:.0f} µm dry, the sheet asks for at least {limits.min_um:.0f}.")
        )
    if film.dft_um > limits.max_um + 0.5:
        found.append(
            Verdict("thick", "warns", f"{film.dft_um:.0f} µm dry, the sheet allows at most {limits.max_um:.0f}.")
        )
    if wft_um is not None and limits.sag_wft_um and wft_um > limits.sag_wft_um:
        found.append(
            Verdict(
                "sag",
                "warns",
                f"{wft_um:.0f} µm wet, it sags above {limits.sag_wft_um:.0f} ({dft_from_wft_um(limits.sag_wft_um, solids_pct, thinner_pct):.0f} µm dry).",
            )
        )
    return found


def date_verdicts(batches: list[tuple[str, date | None]], on: date) -> list[Verdict]:
    """Batches (name, use by) that were out of date on the day."""
    return [
        Verdict("out-of-date", "warns", f"{name} was out of date: use by {use_by:%d %b %Y}.", "the tin")
        for name, use_by in batches
        if use_by is not None and use_by < on
    ]


def without_sheet(product: str) -> list[Verdict]:
    """An unknown product: verdicts on it are "cannot say", never clean."""
    return [Verdict("cannot-say", "advises", f"Cannot say: no data sheet for {product}.", "no data sheet")]
