"""Whether the air lets a coat be put on: its worst from the begin to the end of flash, and from there until it is hard.

The first stops, the second warns (blush). Outdoors an unmeasured surface is taken colder at night, and not judged for
heat by day. What nobody knows yet is taken cold and damp for what must be reached, warm and dry for what must not.
"""

from dataclasses import dataclass, field, replace

import numpy as np

from ..air.dewpoint import Breach, Gate, Limits, dew_point_c, gate
from ..air.journey import MEASURED, WARM_UP, Cut, Journey, behind, joined
from ..air.lag import follow
from ..air.outlook import STEP_S
from ..air.sun import Outdoors, under_the_sky
from ..product.kinds import ProductKind
from ..product.sheet import Sheet
from ..working import Basis
from .integral import crossing
from .names import Runs

EPOXIES = frozenset({ProductKind.EPOXY_PRIMER, ProductKind.EPOXY_MASTIC})
"""Kinds of product that blush until they are hard; others until they are touch-dry. Common practice, no source."""
GOOD_FOR_S = 3600.0
"""How long a surface or an air that was typed stands for what was not measured [s]."""


@dataclass(frozen=True)
class Typed:
    """What was read beside a coat at its begin [°C, %]; None: not."""

    air_c: float | None = None
    rh_pct: float | None = None
    surface_c: float | None = None


@dataclass(frozen=True)
class Fit:
    """What the air says of a coat. gate: over [begin, end of flash]; later: from there until it is hard.

    flash_s, hard_s: ends of both [epoch s], None where the sheet names none or it is not reached; basis: what the air
    at the begin rests on; night: part of it lies under a night sky; sun: part of it by day, its heat not judged.
    """

    gate: Gate = field(default_factory=lambda: Gate(()))
    later: Gate = field(default_factory=lambda: Gate(()))
    flash_s: float | None = None
    hard_s: float | None = None
    basis: Basis = Basis.MEASURED
    night: bool = False
    sun: bool = False


def hard_by(sheet: Sheet) -> str:
    """The time of a sheet until which damp and cold can spoil its film, "" if it names none."""
    wanted = (Runs.HANDLE, Runs.SANDABLE, Runs.TOUCH) if sheet.kind in EPOXIES else (Runs.TOUCH, Runs.DUST_FREE)
    return next((str(kind) for kind in wanted if kind in sheet.times), "")


def fit_of(
    sheet: Sheet,
    where: Journey,
    tau_s: float,
    metal_c: float,
    began_s: float,
    ended_s: float,
    outdoors: Outdoors | None = None,
    typed: Typed | None = None,
    longer: float = 1.0,
    later: bool = True,
) -> Fit:
    """What the air says of a coat begun and ended [epoch s] on a section with lag `tau_s` [s].

    metal_c: its temperature at the begin [°C], if none was typed; outdoors: what is under the sky; longer: how many
    times the sheet's times its film takes; later: False looks no further than the end of flash.
    """
    typed, outdoors = typed or Typed(), outdoors or Outdoors()
    flash, hard = (_ends(where, sheet, kind, ended_s, longer) for kind in (Runs.FLASH, hard_by(sheet) if later else ""))
    flash_s = ended_s if flash is None else flash
    met = _Met(where, tau_s, metal_c, began_s, max(flash_s, hard or flash_s), outdoors, typed)
    first = met.judged(began_s, flash_s, sheet.held_limits)
    basis = where.at(began_s).basis
    if basis is not Basis.MEASURED and typed.air_c is not None and typed.rh_pct is not None:
        basis = Basis.MEASURED
    after = met.judged(flash_s, hard, sheet.held_limits) if hard is not None and hard > flash_s else Gate(())
    return Fit(first, after, flash, hard, basis, met.night, met.sun)


def _ends(where: Journey, sheet: Sheet, kind: str, ended_s: float, longer: float) -> float | None:
    """When a time of a sheet is over after a coat [epoch s]; None if it names none, or not within 30 days."""
    return crossing(where, sheet.times[kind], ended_s, longer).t_s if kind in sheet.times else None


def fit_now(
    limits: Limits, where: Journey, tau_s: float, metal_c: float, t_s: float, outdoors: Outdoors | None = None
) -> Fit:
    """What the air says of metal [°C] with a lag [s] at one moment [epoch s], where no sheet says how long it takes."""
    met = _Met(where, tau_s, metal_c, t_s, t_s, outdoors or Outdoors(), Typed())
    return Fit(met.judged(t_s, t_s, limits), basis=where.at(t_s).basis, night=met.night, sun=met.sun)


BLUSHES = Limits(surface_c=(10.0, None), rh_pct=(None, 80.0))
"""What an epoxy must not meet before it is hard, or it is washed for blush. Common practice, no source."""


def blushed(
    sheet: Sheet,
    where: Journey,
    tau_s: float,
    metal_c: float,
    began_s: float,
    ended_s: float,
    outdoors: Outdoors | None = None,
    longer: float = 1.0,
) -> Basis | None:
    """Whether an epoxy met cold, damp or dew before it was hard, by what is known of the air; None where it did not.

    As for fit_of: begun and ended [epoch s] on a section with a lag [s], at first at so much [°C].
    """
    fit = fit_of(replace(sheet, limits=BLUSHES), where, tau_s, metal_c, began_s, ended_s, outdoors, None, longer)
    return fit.basis if fit.gate.breaches or fit.later.breaches else None


def dewed(where: Journey, tau_s: float, start_s: float, end_s: float) -> bool:
    """True if metal with a lag [s] was under the dew point between two moments [epoch s]."""
    if end_s <= start_s:
        return False
    cut = where.air(start_s - WARM_UP * tau_s, end_s)
    metal_c = follow(cut.t_s, cut.air_c, tau_s)
    return bool(((metal_c < cut.dew_c) & (cut.t_s >= start_s)).any())


class _Met:
    """The air that a coat meets, in the ways that are taken for what nobody knows."""

    def __init__(
        self,
        where: Journey,
        tau_s: float,
        metal_c: float,
        began_s: float,
        end_s: float,
        outdoors: Outdoors,
        typed: Typed,
    ) -> None:
        self.where, self.tau_s, self.began_s, self.end_s = where, tau_s, began_s, end_s
        self.typed = typed
        self.metal_c = metal_c if typed.surface_c is None else typed.surface_c
        self.night = self.sun = False
        self.out = [stay for stay in where.stays if stay.place in outdoors.places and stay.end_s > began_s]
        self.nights = outdoors.nights(began_s, end_s) if self.out else ()
        edges = [began_s + GOOD_FOR_S, *(edge for night in self.nights for edge in night)] if self.out else []
        self.edges = np.array(edges, float)
        self.series: dict[str, tuple[np.ndarray, ...]] = {}

    def judged(self, start_s: float, end_s: float, limits: Limits) -> Gate:
        """Each limit broken between two moments [epoch s], at its worst."""
        tails = any(stay.air.tail_s < end_s and stay.end_s > start_s for stay in self.where.stays)
        found: list[Breach] = []
        for way in ("damp", "warm") if tails else ("",):
            t, air, dew, metal = self._between(way, start_s, end_s)
            hot = self._under_sky(t, air, metal) if self.out else False
            at_most = replace(limits, surface_c=(limits.surface_c[0], None)) if hot else limits
            found += [b for b in gate(t, air, dew, metal, at_most).breaches if _is_of(b, way)]
        return Gate(tuple(found))

    def _between(self, way: str, start_s: float, end_s: float) -> list[np.ndarray]:
        """Times [epoch s], air, dew point and metal [°C] from start to end, both included."""
        series = self.series.get(way)
        if series is None:
            series = self.series[way] = self._follow(way)
        t = series[0]
        t_all = np.union1d(t, self.edges) if len(self.edges) else t
        inside = t_all[(t_all > start_s) & (t_all < end_s)]
        times = np.concatenate([[start_s], inside, [end_s]] if end_s > start_s else [[start_s], inside])
        return [times, *(np.interp(times, t, x) for x in series[1:])]

    def _follow(self, way: str) -> tuple[np.ndarray, ...]:
        """Times [epoch s], air, dew point and metal [°C] from the begin of the coat to its end; steps a millisecond
        long, so that they can be read between.
        """
        met = behind(self._air(way, self.end_s), self.metal_c, self.tau_s)
        apart = met.t_s + np.concatenate([[0.0], np.where(np.diff(met.t_s) <= 0, STEP_S, 0.0)])
        return apart, met.air_c, met.dew_c, met.metal_c

    def _air(self, way: str, end_s: float) -> Cut:
        """The air from the begin on: where it was not measured, for an hour as it was typed."""
        typed, begin, held_s = self.typed, self.began_s, min(self.began_s + GOOD_FOR_S, end_s)
        if typed.air_c is None or typed.rh_pct is None or self.where.at(begin).basis is Basis.MEASURED:
            return self.where.air(begin, end_s, way)
        air, dew = np.full(2, typed.air_c), np.full(2, dew_point_c(typed.air_c, typed.rh_pct))
        held = Cut(np.array([begin, held_s]), air, air, dew, np.array([MEASURED], np.int8))
        return joined([held, self.where.air(held_s, end_s, way)]) if end_s > held_s else held

    def _under_sky(self, t: np.ndarray, air: np.ndarray, metal: np.ndarray) -> bool:
        """Cool an unmeasured surface at night, in place; True if some of it is out by day."""
        out, dark = np.zeros(len(t), bool), np.zeros(len(t), bool)
        for stay in self.out:
            out |= (t >= stay.start_s) & (t < stay.end_s)
        if self.typed.surface_c is not None:
            out &= t > self.began_s + GOOD_FOR_S
        for a, b in self.nights:
            dark |= (t >= a) & (t <= b)
        cold, day = out & dark, bool((out & ~dark).any())
        metal[:] = under_the_sky(metal, air, cold)
        self.night |= bool(cold.any())
        self.sun |= day
        return day


def _is_of(breach: Breach, way: str) -> bool:
    """True if a breach is to be looked for in this way of taking what nobody knows."""
    cold = breach.side == "high" if breach.what == "humidity" else breach.side == "low"
    return not way or (way == "damp") == cold
