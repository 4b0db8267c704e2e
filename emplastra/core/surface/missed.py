"""What a missed window costs: keying, the film it takes, a wipe, and the window it opens again."""

from dataclasses import dataclass

from ..working import Basis, Given, Line, Working
from .clocks import KEYED_S
from .patches import Layer

KEY_MIN_PER_M2 = 12.0
"""Keying by hand or on a soft pad [min/m2]. Common practice, no source."""
WIPE_MIN_PER_M2 = 2.0
"""Wiping with a solvent [min/m2]. Common practice, no source."""
KEY_UM = {"P80": 15.0, "P120": 10.0, "P180": 8.0, "P240": 6.0, "P320": 5.0, "P400": 4.0}
"""Film that keying takes, by grit [µm]. Common practice, no source."""
DEFAULT_GRIT = "P240"
"""Where the sheet names no grit. Common practice, no source."""


@dataclass(frozen=True)
class Remedy:
    """Keying and what follows: grit, minutes, film lost and left [µm], the sheet's least film, the new window
    [epoch s].
    """

    grit: str
    grit_is_stated: bool
    key_min: float
    wipe_min: float
    um_off: float
    left_um: float | None
    least_um: float | None
    open_s: float
    until_s: float
    working: Working

    @property
    def too_thin(self) -> bool:
        """True if less film is left than the sheet asks of a coat."""
        return self.least_um is not None and self.left_um is not None and self.left_um < self.least_um


def remedy(top: Layer, area_m2: float, grit: str | None, now_s: float) -> Remedy:
    """What keying a layer over an area [m2] costs if it is begun now [epoch s].

    grit: the sheet's (FEPA P grade), None if it names none. Raises ValueError for an area not above 0.
    """
    if area_m2 <= 0:
        raise ValueError("area must be above 0 m2")
    chosen = grit or DEFAULT_GRIT
    key, wipe = area_m2 * KEY_MIN_PER_M2, area_m2 * WIPE_MIN_PER_M2
    there, usual = top.left_um, KEY_UM.get(chosen, KEY_UM[DEFAULT_GRIT])
    off = usual if there is None else min(usual, there)
    left = None if there is None else there - off
    least = top.sheet.film.min_um if top.sheet and top.sheet.film else None
    keyed = now_s + 60 * key
    working = Working(
        "Keying it",
        (
            Given("area", round(area_m2, 2), "m²", Basis.COMPUTED, "shapes"),
            Given("grit", chosen, "", Basis.SHEET if grit else Basis.ASSUMED, "the sheet’s remedy" if grit else ""),
            Given("film there", "cannot say" if there is None else round(there, 1), "µm", top.film.basis, top.film.how),
        ),
        (
            Line("keying", f"{area_m2:.2f} × {KEY_MIN_PER_M2:g}", round(key), "min"),
            Line("wiping", f"{area_m2:.2f} × {WIPE_MIN_PER_M2:g}", round(wipe), "min"),
            *(
                (Line("film left", f"{there:.0f} − {off:.0f}", round(left), "µm"),)
                if there is not None and left is not None
                else ()
            ),
        ),
        "Minutes and film by grit: common practice, no source",
    )
    return Remedy(chosen, grit is not None, key, wipe, off, left, least, keyed, keyed + KEYED_S, working)
