"""What more film at edges does to a colour that is as dark as its mid-coats are many."""

from dataclasses import dataclass

from ..colour.card import Card


@dataclass(frozen=True)
class AtEdges:
    """After so many coats the edges are as dark as with `extra` more mid-coats; apart: how far they look apart from the
    rest (CIEDE2000), None without a card that reaches there.
    """

    coats: int
    extra: float
    apart: float | None = None


def at_edges(build: float | None, coats: int, card: Card | None = None) -> AtEdges | None:
    """What an edge build (a share, 0.3: 30 % more) makes of so many mid-coats; None where there is no edge or coat."""
    if build is None or coats <= 0:
        return None
    there = coats * (1.0 + build)
    reaches = card is not None and card.reaches(coats) and card.reaches(there)
    return AtEdges(coats, coats * build, card.apart(coats, there) if card is not None and reaches else None)
