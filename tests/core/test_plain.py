"""The engine beside the plain way: random sheets, air, sections and histories, within a minute or half a per cent."""

import copy
import math
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from emplastra.core.air import lag, series
from emplastra.core.air.journey import journey
from emplastra.core.product import sheet as sheets
from emplastra.core.product.film import Film
from emplastra.core.surface.clocks import Setting, with_clocks
from emplastra.core.surface.events import Bared, Coated, Dried, Prepped, Rinsed, Wetted
from emplastra.core.surface.fold import Toward, build
from emplastra.core.working import Basis
from tests.base import PRIMER
from tests.plain import Case

CASES = 40


def told(case):
    """{what: epoch s or None} by the engine."""
    sheet = sheets.read(copy.deepcopy(PRIMER) | case.document())
    airs = []
    for rows, hours in case.places:
        t, temps, rh = np.array(rows).T
        ahead = None
        if hours:
            when, warm, damp = np.array(hours).T
            dews = np.array([series.dew_point_c(c, r) for c, r in zip(warm, damp, strict=True)])
            ahead = series.Ahead(when, warm, dews, np.zeros(len(when)))
        airs.append(series.from_readings(t, temps, rh, float(t[-1]), series.Assumption(*case.assumed), ahead))
    moves = [(0.0, airs[0], "a")] + ([(case.move, airs[1], "b")] if case.move is not None else [])
    where = journey(moves, lag.shared_lag_s(lag.lag_s(*case.tau_of)))
    setting = Setting("steel", where, Toward("Other", "sealer"), salted=case.salted)
    events = [Bared(case.bared, case.bared, 1.0, "", 1, by_hand=case.by_hand)]
    found = {}
    if case.rinse is not None:
        wet = range(int(case.prep), int(case.rinse), 540)
        events += [Prepped(case.prep, case.prep, 1.0, "", 2, "Prep", sheet), *(Wetted(t, t, 1.0, "", 3) for t in wet)]
        found["contact"] = with_clocks(build(events, case.rinse - 1), setting).clock("keep-wet").opens_s
        events.append(Rinsed(case.rinse, case.rinse, 1.0, "", 4))
        if case.dried is None:
            found["dry"] = with_clocks(build(events, case.rinse + 1), setting).clock("dry-off").opens_s
        else:
            events.append(Dried(case.dried, case.dried, 1.0, "", 5))
    later = case.t0 + 60 * 86400.0
    bare = with_clocks(build(events, later), setting).clock("bare")
    found["bare"] = bare.closes_s
    for n, (began, ended, share, film) in enumerate(case.coats):
        events.append(Coated(began, ended, share, "p", 10 + n, sheet, Film(film, Basis.MEASURED, ""), sheet.product))
    surface = with_clocks(build(events, case.coats[-1][1] + 60), setting)
    for kind in ("flash", "cure"):
        found[kind] = surface.clock(kind).opens_s
    window = surface.window
    alone = [with_clocks(p, setting).window for p in _alone(surface)]
    found["opens"] = window.opens_s if len(alone) == 1 else _last([c.opens_s for c in alone])
    found["closes"] = (
        window.closes_s if len(alone) == 1 else min((c.closes_s for c in alone if c.closes_s), default=None)
    )
    return found


def _alone(surface):
    return [replace(surface, patches=(replace(p, share=1.0),), clock_maker=None) for p in surface.patches]


def _last(moments):
    return None if None in moments else max(moments)


METAL_K = 0.02
"""A section is as far behind as this [K] before it counts as settled."""


def apart(seed):
    """(share of what is allowed, seed, what, seconds) of the clock furthest from the plain way.

    Allowed: a minute or 0.5 % of the time, the larger; where a clock stands still between the two, 0.1 % of its
    progress; where the metal creeps past the temperature at which it stands still, what 0.02 K of it would make.
    """
    case = Case(seed)
    tau, engine, worst = lag.lag_s(*case.tau_of), told(case), (0.0, seed, "", 0.0)
    for what, answer in case.plain(tau).items():
        got, want = engine[what], answer.t
        share = 0.0 if want is got else 99.0
        if want is not None and got is not None:
            share = abs(got - want) / max(60.0, 0.005 * (want - answer.since))
        if share > 1 and got is not None:
            share = min(share, answer.off(got) / 0.001)
        if share > 1:
            ends = [case.plain(tau, k)[what].t or math.inf for k in (-METAL_K, METAL_K)]
            share = 1.0 if min(ends) <= (got or math.inf) <= max(ends) else share
        worst = max(worst, (share, seed, what, (got or 0.0) - (want or 0.0)))
    return worst


class PlainTests(SimpleTestCase):
    def test_random_histories_agree_with_the_plain_way(self):
        for seed in range(CASES):
            with self.subTest(seed):
                share, _, what, seconds = apart(seed)
                self.assertLessEqual(share, 1.0, f"{what}: {seconds:.0f} s apart")
