"""Every clock of a surface, for tests to look through."""

from emplastra.core.product.schema import ACTS, TIMES
from emplastra.core.surface.names import Runs

_ALWAYS = (Runs.BARE, Runs.KEEP_WET, Runs.DRY_OFF, Runs.RECOAT, Runs.DEGREASED)


def clocks_of(surface):
    """Every clock that runs on a surface; an act, or a time, only where the sheet of its top layer names it."""
    sheet = surface.top.sheet if surface.top else None
    named = {row.next.removeprefix("act:") for row in sheet.windows} | set(sheet.times) if sheet else set()
    kinds = [*_ALWAYS, *(kind for kind in (*ACTS, *TIMES) if kind in named and kind != "contact")]
    return tuple(clock for clock in map(surface.clock_maker, kinds) if clock is not None)
