"""Rules about the scratches under a coat: coarse enough to hold it, fine enough to be buried by what lies over them.

Which grit a coating takes under it: common practice, no source; the sheet comes first.
"""

from collections.abc import Iterator

from ..product.abrasives import buries, grain_um, grit_plan, scratch_um
from ..words import film_q
from .face import COATS
from .registry import Aspect, Said, rule
from .seen import Case


@rule("grit-coarse", Aspect.GRIT, "warns", "Scratches no coarser than the next coat covers", "ground", kinds=COATS)
def _coarse(c: Case) -> Iterator[Said]:
    grit, wants = c.on_ground.grit, c.on_ground.wants
    if grit and wants and c.face.seen and grain_um(grit) > grain_um(wants[0]):
        go_on = ", ".join(grit_plan(grit, wants[0])[1:])
        yield Said(f"{grit} on {c.on_ground.where} shows through {c.act.name}; go on with {go_on}.", fix="key")


@rule("grit-fine", Aspect.GRIT, "warns", "Scratches no finer than the next coat holds to", "ground", kinds=COATS)
def _fine(c: Case) -> Iterator[Said]:
    grit, wants = c.on_ground.grit, c.on_ground.wants
    if grit and wants and grain_um(grit) < grain_um(wants[1]):
        yield Said(f"{grit} on {c.on_ground.where} gives {c.act.name} no tooth; {wants[1]} at the finest.", fix="key")


@rule(
    "scratch",
    Aspect.GRIT,
    "warns",
    "The film that is left buries the scratch twice",
    "ground",
    "estimate from the grain, ISO 6344 from memory",
    COATS,
    fix="key",
)
def _scratch(c: Case) -> Iterator[Said]:
    grit, film = c.on_ground.grit, c.act.over_um
    on_metal = c.on_ground.bare
    if grit and film > 0 and c.face.seen and not buries(grit, film, on_metal):
        yield Said(
            f"Scratches of {grit} on {c.on_ground.where} are about {film_q(scratch_um(grit, on_metal))} deep; "
            f"{film_q(film)} of film over them does not bury that twice."
        )
