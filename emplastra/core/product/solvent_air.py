"""Fresh air that keeps solvent vapour under a quarter of its lower explosive limit. Against fire only.

29 CFR 1910.94(c)(6)(ii) and its Table G-11, from memory: vapour of a liquid at 70 °F, lower explosive limits in
percent. A quarter of the limit is many times what may be breathed: no measure for that.
"""

from dataclasses import dataclass

from ..words import volume_q
from ..working import Basis, Given, Line, Working

L_PER_CU_FT, L_PER_GAL = 28.316846592, 3.785411784
WARNING = (
    "Against fire only: a quarter of the explosive limit is many times what may be breathed. Mask and extraction as the "
    "sheet says."
)
HEATERS = "No unflued heater, glowing element or open flame near solvent: heat by a flue or by water."


@dataclass(frozen=True)
class Solvent:
    """A solvent: vapour of a US gallon [cu ft at 70 °F], lower explosive limit [% by volume], density [g/mL]."""

    name: str
    cu_ft_gal: float
    lel_pct: float
    g_ml: float

    @property
    def vapour_l_l(self) -> float:
        """Vapour of a litre of liquid [L at 70 °F]."""
        return self.cu_ft_gal * L_PER_CU_FT / L_PER_GAL


SOLVENTS: dict[str, Solvent] = {
    "toluene": Solvent("Toluene", 30.4, 1.4, 0.87),
    "butanol": Solvent("n-Butyl alcohol", 35.2, 1.4, 0.81),
    "ethyl-acetate": Solvent("Ethyl acetate", 32.8, 2.5, 0.90),
    "isopropanol": Solvent("Isopropyl alcohol", 44.0, 2.0, 0.785),
    "methanol": Solvent("Methyl alcohol", 80.8, 7.3, 0.79),
    "benzene": Solvent("Benzene", 36.8, 1.4, 0.88),
    "cellosolve": Solvent("Cellosolve (2-ethoxyethanol)", 33.6, 1.8, 0.93),
}
"""Table G-11, from memory; densities at 20 °C, from memory."""
STANDS_IN = "butanol"
"""What stands in for solvents that no sheet names: of those in paint the one that wants most air for a litre. Ours."""


def air_m3_per_l(vapour_l_l: float, lel_pct: float) -> float:
    """Fresh air [m3] for a litre of liquid that leaves it at 25 % of the lower explosive limit: (400 - LEL)·V/LEL.

    vapour_l_l: vapour of a litre [L]; lel_pct: the limit [% by volume]. Raises ValueError for a limit out of range.
    """
    if not 0 < lel_pct < 100:
        raise ValueError(f"the lower explosive limit must be above 0 and below 100 %; it is {lel_pct:g}")
    return (400.0 - lel_pct) * vapour_l_l / lel_pct / 1000.0


def regulation_m3_per_l(vapour_l_l: float, lel_pct: float) -> float:
    """The same by the regulation's own figure, 4·(100 - LEL)·V/LEL, which ends a little over 25 %.

    vapour_l_l: vapour of a litre [L]; lel_pct: the limit [% by volume]. Raises ValueError for a limit out of range.
    """
    if not 0 < lel_pct < 100:
        raise ValueError(f"the lower explosive limit must be above 0 and below 100 %; it is {lel_pct:g}")
    return 4.0 * (100.0 - lel_pct) * vapour_l_l / lel_pct / 1000.0


@dataclass(frozen=True)
class FreshAir:
    """Air for what is put on [m3], a minute of it [m3/min], and by the regulation's figure [m3]; the working."""

    m3: float
    m3_min: float
    regulation_m3: float
    solvent: Solvent
    solvent_ml: float
    working: Working

    @property
    def per_l_m3(self) -> float:
        """Air for a litre of it [m3]."""
        return air_m3_per_l(self.solvent.vapour_l_l, self.solvent.lel_pct)


def fresh_air(voc_g: float, minutes: float, solvent: str = STANDS_IN, is_told: bool = False) -> FreshAir:
    """Air for so much solvent [g] that leaves over so many minutes [min].

    solvent: a key of SOLVENTS; is_told: it was chosen, and does not stand in. Raises KeyError, ValueError.
    """
    of = SOLVENTS[solvent]
    if minutes <= 0:
        raise ValueError("the time over which it leaves must be above 0 min")
    ml = voc_g / of.g_ml
    per_l, by_rule = air_m3_per_l(of.vapour_l_l, of.lel_pct), regulation_m3_per_l(of.vapour_l_l, of.lel_pct)
    m3 = ml / 1000.0 * per_l
    basis = Basis.TYPED if is_told else Basis.ASSUMED
    whence = "chosen" if is_told else "stands in for what no sheet names: wants most air of the usual ones"
    given = (
        Given("solvent that leaves", round(voc_g, 1), "g", Basis.COMPUTED, "VOC of what is put on"),
        Given("taken as", of.name, "", basis, whence),
        Given("density", of.g_ml, "g/mL", Basis.ASSUMED, "from memory"),
        Given("vapour of a litre", round(of.vapour_l_l / 1000, 4), "m³", Basis.ASSUMED, "Table G-11, from memory"),
        Given("lower explosive limit", of.lel_pct, "%", Basis.ASSUMED, "Table G-11, from memory"),
        Given("leaves over", round(minutes, 1), "min", Basis.ESTIMATED, "putting it on, and its flash"),
    )
    over = f"{of.vapour_l_l / 1000:.4f} / {of.lel_pct:g}"
    lines = (
        Line("air a litre", f"(400 − {of.lel_pct:g}) × {over}", round(per_l, 1), "m³"),
        Line("by the regulation", f"4 × (100 − {of.lel_pct:g}) × {over}", round(by_rule, 1), "m³"),
        Line("in all", f"{ml / 1000:.3f} × {per_l:.1f}", round(m3, 1), "m³"),
        Line("a minute", f"{m3:.1f} / {minutes:.1f}", round(m3 / minutes, 2), "m³/min"),
    )
    working = Working(f"Air for {volume_q(ml)} of solvent", given, lines, f"29 CFR 1910.94(c), from memory. {WARNING}")
    return FreshAir(m3, m3 / minutes, ml / 1000.0 * by_rule, of, ml, working)
