"""How a tin's content is written."""

from emplastra.core import units
from emplastra.core.rules.face import PartFact


def amount(value, unit, system):
    """A content in words: a volume or a mass as the workshop shows it; "" where there is none."""
    if value is None:
        return ""
    return units.show(value, "volume" if unit == "mL" else "mass", system)


def poured(takes, unit, system):
    """[(TinView, how much of it in words)] of what is or was poured from tins [(TinView, mL or g)]."""
    return [(view, amount(much, unit, system)) for view, much in takes]


def part_fact(part, system):
    """A part of pots to come (PartDrawn) as the judge is told of it."""
    lacks, kept = (amount(x, part.unit, system) if x > 1e-6 else "" for x in (part.drawn.lacks, part.drawn.of_kept))
    if kept and part.kept_for:
        kept = f"{kept} for {part.kept_for}"
    batches = tuple(dict.fromkeys(view.tin.batch for view, _ in part.takes))
    return PartFact(part.part.name, amount(part.wanted, part.unit, system), lacks, kept, batches, part.there)


def holds(wanted, system):
    """What a tin that is poured from still holds, what it lacks for what is wanted (Wanted), and which is next."""
    view = wanted.view
    if view.left.amount is None:
        return "holds an unknown amount"
    held = f"holds {amount(view.left.amount, view.unit, system)}"
    if not wanted.lacks:
        return held
    then = f": then {wanted.then.tin.code}, batch {wanted.then.tin.batch}" if wanted.then else ", and no other is there"
    return f"{held}, {amount(wanted.lacks, view.unit, system)} short{then}"
