"""Work that is given away: what to look after before a part goes, and how it may come back.

Common practice, no source.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Trade:
    """A kind of work given away, and keys of the send-off list that it wants."""

    name: str
    wants: tuple[str, ...]


SEND_OFF: dict[str, str] = {
    "welds": "Welds looked at all round, pinholes closed",
    "burrs": "Burrs off by hand and eye",
    "holes": "Holes deburred, drains open",
    "marks": "Marked, so that it comes back to its place",
    "heat": "Out before heat: bushes, seals, bearings, solder, wiring",
    "mask": "Threads, fits and marks named that are to be masked",
    "brace": "Braced: openings and bonded seams may come loose",
    "keep-off": "Shown what must not be blasted: thin skins, glass, castings’ faces",
    "photos": "Photographed from all sides",
}
"""What is looked after before a part goes, by key."""

TRADES: dict[str, Trade] = {
    "dip": Trade("Dip", ("welds", "holes", "marks", "heat", "brace", "photos")),
    "blast": Trade("Blast", ("welds", "burrs", "marks", "mask", "keep-off", "photos")),
    "powder": Trade("Powder", ("welds", "burrs", "holes", "marks", "heat", "mask", "photos")),
    "dents": Trade("Dents", ("marks", "photos")),
    "other": Trade("Other", ("marks", "photos")),
}

CAME_BACK: dict[str, str] = {
    "as-sent": "As it was sent",
    "bare": "Bare",
    "temporary": "In a temporary primer",
    "coated": "Coated",
}
"""How a part comes back."""
CAUTION = (
    "Raised and slung work: nobody under it. Acid, dust and heat are the contractor’s: ask for their sheet "
    "of what is left on the part."
)
