"""What a tin of each kind is asked, and what is typical of the kind.

Typical figures are common practice with no source: taken by a tap they are marked assumed. Never typical are a ratio,
a hardener's grade, the wait after stirring, a pot life, the end of a window, substrates; nor a density, for a ratio by
volume that goes through an assumed density to the scale would be an assumed ratio.
"""

from dataclasses import dataclass

from .kinds import ProductKind as K


@dataclass(frozen=True)
class Typical:
    """Typical of a kind at 20 °C: dry film of a coat (least, usual, most) [µm], coats, solids [% by volume], and times
    [min] by name. Common practice, no source.
    """

    film_um: tuple[float, float, float] | None = None
    coats: int | None = None
    solids_pct: float | None = None
    times: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True)
class KindTraits:
    """A kind of product: its name, what it comes as (the usual first: mixed, ready, aerosol), the fields that its label
    is asked, hazards that are usual of it, its hatch, and what is typical.
    """

    name: str
    group: str
    forms: tuple[str, ...]
    asks: tuple[str, ...]
    hazards: tuple[str, ...] = ()
    hatch: str = "plain"
    typical: Typical = Typical()


_MIX = ("ratio", "thinner", "induction", "pot_life")
_COAT = (
    "coats",
    "film",
    "coverage",
    "solids",
    "flash",
    "recoat",
    "sandable",
    "cure",
    "methods",
    "on",
    "grit",
    "limits",
)
_LIQUID = ("use", "limits", "on")
_FILLER = ("ratio", "pot_life", "lift", "recoat", "sandable", "cure", "on", "grit", "limits")
_H = 60.0
_D = 1440.0


def _typical(film: tuple[float, float, float], coats: int, solids: float, **times: float) -> Typical:
    return Typical(film, coats, solids, tuple(times.items()))


GROUPS = ("Clean and treat", "Prime", "Fill and level", "Seal and texture", "Colour", "Protect")

KINDS: dict[str, KindTraits] = {
    K.CLEANER: KindTraits("Cleaner", GROUPS[0], ("ready",), ("dilution", *_LIQUID), ("caustic",)),
    K.PANEL_WIPE: KindTraits("Panel wipe", GROUPS[0], ("ready", "aerosol"), ("use", "flash", "limits", "on"), ("solvent",), typical=Typical(times=(("flash", 5.0),))),
    K.ACID_PREP: KindTraits("Acid prep", GROUPS[0], ("ready",), ("contact", "leave", *_LIQUID), ("acid",)),
    K.CONVERTER: KindTraits("Rust converter", GROUPS[0], ("ready",), _COAT, ("acid",), "waves", _typical((10, 20, 40), 2, 25, flash=30.0, cure=_D)),
    K.CONVERTING_PRIMER: KindTraits("Converting primer", GROUPS[0], ("ready", "aerosol"), ("thinner", *_COAT), ("solvent",), "waves", _typical((30, 40, 60), 2, 45, flash=_H, cure=3 * _D)),
    K.ENCAPSULATOR: KindTraits("Encapsulator", GROUPS[0], ("ready", "mixed"), (*_MIX, *_COAT), ("solvent",), "grid", _typical((40, 60, 80), 2, 60, flash=2 * _H, cure=4 * _D)),
    K.WASH_PRIMER: KindTraits("Wash primer", GROUPS[1], ("mixed", "aerosol", "ready"), (*_MIX, *_COAT), ("acid", "solvent"), "rise", _typical((5, 8, 12), 1, 9, flash=10.0)),
    K.WELD_THROUGH_PRIMER: KindTraits("Weld-through primer", GROUPS[1], ("aerosol", "ready"), _COAT, ("zinc", "solvent"), "rise", _typical((10, 15, 25), 1, 25, flash=10.0)),
    K.EPOXY_PRIMER: KindTraits("Epoxy primer", GROUPS[1], ("mixed", "aerosol"), (*_MIX, *_COAT), ("sensitiser", "solvent"), "dots", _typical((30, 40, 60), 2, 50, flash=20.0, sandable=16 * _H, cure=7 * _D)),
    K.EPOXY_MASTIC: KindTraits("Epoxy mastic", GROUPS[1], ("mixed",), (*_MIX, *_COAT), ("sensitiser", "solvent"), "grid", _typical((75, 100, 150), 2, 75, flash=_H, sandable=_D, cure=7 * _D)),
    K.ZINC_RICH_PRIMER: KindTraits("Zinc-rich primer", GROUPS[1], ("mixed", "ready", "aerosol"), (*_MIX, *_COAT), ("zinc", "solvent"), "rise", _typical((40, 60, 75), 1, 50, flash=30.0, cure=7 * _D)),
    K.ONE_K_PRIMER: KindTraits("One-pack primer", GROUPS[1], ("ready", "aerosol"), ("thinner", *_COAT), ("solvent",), "lines", _typical((25, 35, 50), 2, 40, flash=15.0, sandable=2 * _H)),
    K.BODY_FILLER: KindTraits("Body filler", GROUPS[2], ("mixed",), _FILLER, ("solvent",), "fall", Typical(times=(("sandable", 25.0), ("cure", 3 * _H)), solids_pct=97)),
    K.FIBRE_FILLER: KindTraits("Fibre filler", GROUPS[2], ("mixed",), _FILLER, ("solvent",), "fall", Typical(times=(("sandable", 30.0), ("cure", 3 * _H)), solids_pct=97)),
    K.FINE_FILLER: KindTraits("Fine filler", GROUPS[2], ("mixed",), _FILLER, ("solvent",), "fall", Typical(times=(("sandable", 25.0), ("cure", 3 * _H)), solids_pct=95)),
    K.SPRAYABLE_FILLER: KindTraits("Sprayable filler", GROUPS[2], ("mixed",), (*_MIX, *_COAT), ("solvent",), "fall", _typical((150, 200, 300), 2, 70, flash=15.0, sandable=2 * _H, cure=_D)),
    K.BODY_SOLDER: KindTraits("Body solder", GROUPS[2], ("ready",), ("on",), ("lead",), "rise"),
    K.TWO_PACK_SURFACER: KindTraits("Two-pack surfacer", GROUPS[2], ("mixed",), (*_MIX, *_COAT), ("isocyanate", "solvent"), "lines", _typical((40, 50, 80), 3, 50, flash=10.0, sandable=3 * _H, cure=_D)),
    K.GUIDE_COAT: KindTraits("Guide coat", GROUPS[2], ("aerosol", "ready"), ("flash",), ("solvent",), "dots", Typical(times=(("flash", 5.0),))),
    K.SEALER: KindTraits("Sealer", GROUPS[3], ("mixed", "ready"), (*_MIX, *_COAT), ("isocyanate", "solvent"), "lines", _typical((15, 25, 35), 1, 40, flash=15.0, cure=_D)),
    K.SEAM_SEALER: KindTraits("Seam sealer", GROUPS[3], ("ready", "mixed"), ("ratio", "pot_life", "recoat", "cure", "on", "limits"), (), "waves", Typical(times=(("cure", _D),))),
    K.CHIP_COAT: KindTraits("Chip coat", GROUPS[3], ("aerosol", "ready"), _COAT, ("solvent",), "waves", _typical((150, 250, 400), 2, 40, flash=20.0, cure=_D)),
    K.UNDERBODY_COAT: KindTraits("Underbody coat", GROUPS[3], ("ready", "aerosol"), _COAT, ("solvent",), "waves", _typical((300, 500, 1000), 2, 55, flash=_H, cure=2 * _D)),
    K.TEXTURED_COATING: KindTraits("Textured coating", GROUPS[3], ("mixed", "ready", "aerosol"), (*_MIX, *_COAT), ("solvent",), "waves", _typical((100, 200, 300), 2, 50, flash=20.0, cure=_D)),
    K.ENAMEL: KindTraits("Enamel", GROUPS[4], ("ready", "mixed", "aerosol"), (*_MIX, *_COAT), ("solvent",), "plain", _typical((25, 35, 50), 2, 48, flash=30.0, cure=7 * _D)),
    K.BASE_COAT: KindTraits("Base coat", GROUPS[4], ("ready", "mixed"), (*_MIX, *_COAT, "hides"), ("solvent",), "plain", _typical((10, 15, 20), 2, 20, flash=10.0)),
    K.MID_COAT: KindTraits("Mid-coat", GROUPS[4], ("ready", "mixed"), (*_MIX, *_COAT), ("solvent",), "plain", _typical((5, 8, 12), 3, 15, flash=10.0)),
    K.SINGLE_STAGE: KindTraits("Single-stage colour", GROUPS[4], ("mixed",), (*_MIX, *_COAT), ("isocyanate", "solvent"), "plain", _typical((40, 50, 70), 2, 50, flash=10.0, cure=_D)),
    K.CLEAR_COAT: KindTraits("Clear coat", GROUPS[4], ("mixed", "aerosol"), (*_MIX, *_COAT), ("isocyanate", "solvent"), "plain", _typical((20, 27, 35), 2, 45, flash=10.0, cure=_D)),
    K.FLAKE_URETHANE: KindTraits("Flake urethane", GROUPS[5], ("ready", "mixed"), (*_MIX, *_COAT), ("isocyanate", "solvent"), "grid", _typical((40, 50, 75), 2, 50, flash=2 * _H, cure=4 * _D)),
    K.POWDER: KindTraits("Powder", GROUPS[5], ("ready",), ("film", "cure", "on"), (), "dots", Typical((60, 80, 120), 1)),
    K.CAVITY_WAX: KindTraits("Cavity wax", GROUPS[5], ("aerosol", "ready"), ("film", "coverage", "cure", "methods", "limits"), ("solvent",), "waves", Typical((50, 100, 200), 1, 45, (("cure", _D),))),
}  # fmt: skip
"""Kind -> what it is called, asked and what is typical of it. Common practice, no source."""

OF_MIXES = frozenset({"ratio", "induction", "pot_life"})
"""Fields that only parts to mix have."""
TAKEN = ("film", "coats", "solids", "flash", "sandable", "cure")
"""Figures that a tap may take as typical."""


def asked(kind: str, form: str) -> tuple[str, ...]:
    """Fields that a tin of a kind is asked in a form (mixed, ready, aerosol), in the order of a label."""
    traits = KINDS[kind]
    gone = set(OF_MIXES) if form != "mixed" else set()
    gone |= {"thinner", "methods"} if form == "aerosol" else set()
    rest = tuple(name for name in traits.asks if name not in gone)
    return (*rest, "shelf")


def typical_of(kind: str, name: str) -> float | tuple[float, float, float] | None:
    """What is typical of a kind for a figure of TAKEN: film [µm] (least, usual, most), coats, solids [%], a time [min]
    at 20 °C; None where nothing is.
    """
    typical = KINDS[kind].typical
    if name == "film":
        return typical.film_um
    if name == "coats":
        return typical.coats
    if name == "solids":
        return typical.solids_pct
    return dict(typical.times).get(name)
