"""How a tin's content is written."""

from emplastra.core import units


def amount(value, unit, system):
    """A content in words: a volume or a mass as the workshop shows it; "" where there is none."""
    if value is None:
        return ""
    return units.show(value, "volume" if unit == "mL" else "mass", system)


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
