"""What old coats and parts may hold that harms whoever makes dust of them: lead, chromate, tin, asbestos.

Common practice, no source; local codes rule. A layer is suspected by its kind until a test says no; a lead kit finds
no chromate and no asbestos, a laboratory finds all.
"""

from collections.abc import Iterable

from .strip import WAYS

LEAD, CHROMATE, TIN, ASBESTOS = "lead", "chromate", "tin", "asbestos"
KNOWN = {"red-lead": LEAD, "chromate": CHROMATE, "antifouling": TIN}
"""Old layer -> what it holds by its name."""
SUSPECTED = {
    "oil": LEAD,
    "lacquer": LEAD,
    "crazed": LEAD,
    "bleeding": LEAD,
    "unknown": LEAD,
    "compound": ASBESTOS,
    "bitumen": ASBESTOS,
}
"""Old layer -> what it may hold; factory finishes, two-packs and powder are taken for modern."""
DUSTY = frozenset(WAYS) - {"scrape", "chemical", "dip"}
"""Ways of stripping that make dust or fume."""
TOUCHES = DUSTY | {"scrape"}
"""Ways that break a compound up."""
ORDER = (ASBESTOS, LEAD, CHROMATE, TIN)
"""What may be held, the gravest first; a test names it by the same words."""


def held_by(layers: Iterable[str], tested: str = "") -> dict[str, bool]:
    """{what old layers hold or may hold: True where it is known, False where nobody has tested it}.

    layers: kinds of old layers; tested: what tests said, joined by "+" ("none": by a laboratory; "kit": a lead kit says
    no).
    """
    said = set(tested.split("+"))
    found = {name: True for name in ORDER if name in said}
    if "none" in said:
        return found
    for layer in layers:
        if layer in KNOWN:
            found[KNOWN[layer]] = True
        elif layer in SUSPECTED and not (SUSPECTED[layer] == LEAD and "kit" in said):
            found.setdefault(SUSPECTED[layer], False)
    return found


def untold(tested: str = "") -> str:
    """What paint of which nobody told may hold by the tests that were made of it, "" where a laboratory cleared it."""
    said = set(tested.split("+"))
    return "" if "none" in said else CHROMATE if "kit" in said else LEAD


def against(way: str, held: dict[str, bool]) -> str:
    """Why a way is not to be taken over what is held, "" where nothing speaks against it."""
    what = [name for name in ORDER if name in held and way in (TOUCHES if name == ASBESTOS else DUSTY)]
    known = [name for name in what if held[name]]
    if ASBESTOS in known:
        return "Old layers hold asbestos: leave them alone, they are for licensed people."
    if known:
        return (
            f"Old layers hold {' and '.join(known)}: no dry sanding, blasting or heat. "
            "Stripper, wet, or people licensed for it."
        )
    if not what:
        return ""
    by = "a laboratory says no" if {ASBESTOS, CHROMATE} & set(what) else "a test says no"
    no = "nothing touches them" if ASBESTOS in what else "no dry sanding, blasting or heat"
    return f"Nobody has tested the old layers for {' and '.join(what)}: {no} before {by}."


def may_explode(held: str, part: str) -> bool:
    """True for a tank, or what is told to have held something, unless it never held fuel or was cleaned by those
    licensed. held: the choice made of what it held, "" for not told.
    """
    return held not in {"never", "cleaned"} and bool(held or part == "tank")
