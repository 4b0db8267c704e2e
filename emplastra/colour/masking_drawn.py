"""What flies where, drawn on the view of the map that a face is in: open is barred, covered is hatched as its cover."""

from dataclasses import dataclass

CELL = 12.0
EDGE = 10.0


@dataclass(frozen=True)
class Tile:
    """A face of the view: its rectangle, how it lies to the spray ("sprayed", "open", "covered", "harmless"), its name,
    its cover.
    """

    x: float
    y: float
    w: float
    h: float
    how: str
    name: str
    cover: str = ""


@dataclass(frozen=True)
class Drawn:
    """The part of a view round a sprayed face: its frame and tiles."""

    x: float
    y: float
    width: float
    height: float
    tiles: list

    @property
    def box(self):
        """Its frame as a picture names it."""
        return f"{self.x:.0f} {self.y:.0f} {self.width:.0f} {self.height:.0f}"


def drawn(one):
    """A face that is sprayed (Sprayed) among its neighbours; None where it has no place on the map."""
    if not hasattr(one.zone, "map_place"):
        return None
    mine, tiles = one.zone.map_place.cells, []
    for near in one.near:
        how = "open" if near.is_open else "covered" if near.seen.masked else "harmless"
        place = getattr(near.each.zone, "map_place", None)
        if place is not None and place.view == mine.view:
            tiles.append(_tile(place.cells, how, near.each.zone.name, near.seen.masked))
    tiles.append(_tile(mine, "sprayed", one.zone.name))
    x0, y0 = min(t.x for t in tiles) - EDGE, min(t.y for t in tiles) - EDGE
    x1, y1 = max(t.x + t.w for t in tiles) + EDGE, max(t.y + t.h for t in tiles) + EDGE
    return Drawn(x0, y0, x1 - x0, y1 - y0, tiles)


def _tile(cells, how, name, cover=""):
    return Tile(cells.x * CELL, cells.y * CELL, cells.w * CELL, cells.h * CELL, how, name, cover)
