"""The film that strokes leave on a face: its map, its returns, where the paint goes."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .gun import Gun, erf
from .panel import Panel
from .strokes import Stroke

FINE = 160
"""Cells along the longer side of a map on a screen."""
CELLS_MOST = 1_000_000
RETURN_CELLS, RETURN_LONG = 6, 40
"""Cells of a return, across and along it."""
EDGE_MM = 25.0
"""How near to an edge counts as at the edge [mm]."""
DRY_SHARE = 0.5
"""Under this share of the film that is wanted drops do not flow together; from farther away sooner, for they arrive
drier. Common practice, no source.
"""


@dataclass(frozen=True)
class Wanted:
    """What a coat is to be: dry film [µm], between which it counts as even [µm], solids in the gun [0..1], the wet film
    at which it sags where it stands upright [µm] (None: nobody told, or the face lies flat).
    """

    film_um: float
    low_um: float
    high_um: float
    solids: float
    sags_wet_um: float | None = None


@dataclass(frozen=True)
class Return:
    """The film on a return: its edge ("upper 0"), an array of depth by length [µm]."""

    edge: str
    um: np.ndarray

    @property
    def mean_um(self) -> float:
        """Its mean film [µm]."""
        return float(self.um.mean())


@dataclass(frozen=True)
class Paint:
    """Where the paint of a coat goes [mL ready to use]: on the face, on its returns, past its edges and through its
    openings, off in the air.
    """

    face_ml: float
    returns_ml: float
    past_ml: float
    air_ml: float

    @property
    def sprayed_ml(self) -> float:
        """What leaves the gun [mL]."""
        return self.face_ml + self.returns_ml + self.past_ml + self.air_ml


@dataclass(frozen=True)
class PassMap:
    """A coat as it is sprayed: the dry film in each cell of a face [µm], rows by columns from the upper left, and of
    its returns; hole: True for cells that are cut out.
    """

    panel: Panel
    gun: Gun
    strokes: tuple[Stroke, ...]
    wanted: Wanted
    um: np.ndarray
    hole: np.ndarray
    returns: tuple[Return, ...] = ()

    @cached_property
    def on_um(self) -> np.ndarray:
        """The film of all cells that are there [µm]."""
        return self.um[~self.hole]

    @cached_property
    def mean_um(self) -> float:
        """The mean film of the face [µm]."""
        return float(self.on_um.mean())

    @cached_property
    def spread_um(self) -> float:
        """How far it strays: one standard deviation [µm]."""
        return float(self.on_um.std())

    @cached_property
    def edge(self) -> np.ndarray:
        """True for cells within EDGE_MM of an edge."""
        rows, columns = self.um.shape
        x, y = _middles(self.panel.w_mm, columns), _middles(self.panel.h_mm, rows)
        near = np.minimum(np.minimum(x, self.panel.w_mm - x), np.minimum(y, self.panel.h_mm - y)[:, None]) <= EDGE_MM
        for left, top, right, bottom in self.panel.openings:
            across = np.maximum(np.maximum(left - x, x - right), 0.0)
            down = np.maximum(np.maximum(top - y, y - bottom), 0.0)
            near |= np.hypot(across, down[:, None]) <= EDGE_MM
        return np.asarray(near & ~self.hole)

    @cached_property
    def edge_build(self) -> float | None:
        """How much more film its edges have than the rest, as a share (0.3: 30 % more); None where all is edge."""
        inner = ~self.edge & ~self.hole
        if not inner.any() or not self.edge.any():
            return None
        rest = float(self.um[inner].mean())
        return float(self.um[self.edge].mean()) / rest - 1.0 if rest > 0 else None

    def share(self, low_um: float, high_um: float) -> float:
        """Share of the face [0..1] with a film from so much, and below so much [µm]."""
        return float(((self.on_um >= low_um) & (self.on_um < high_um)).mean())

    @property
    def thin(self) -> float:
        """Share that is under what counts as even [0..1]."""
        return self.share(-1.0, self.wanted.low_um)

    @property
    def thick(self) -> float:
        """Share that is over it [0..1]."""
        return self.share(np.nextafter(self.wanted.high_um, np.inf), np.inf)

    @property
    def even(self) -> float:
        """Share that is even [0..1]."""
        return 1.0 - self.thin - self.thick

    @property
    def sags(self) -> float | None:
        """Share that is wet enough to run [0..1]; None where nobody told at how much."""
        most = self.wanted.sags_wet_um
        return None if most is None else self.share(most * self.wanted.solids, np.inf)

    @property
    def dry_um(self) -> float:
        """Under so much the drops stay apart [µm]."""
        farther = max(1.0, self.gun.distance_mm / self.gun.fan_at_mm)
        return min(self.wanted.low_um, DRY_SHARE * self.wanted.film_um * farther)

    @property
    def dry(self) -> float:
        """Share that stays dry and rough [0..1]."""
        return self.share(-1.0, self.dry_um)

    @property
    def seconds(self) -> float:
        """How long the trigger is pulled [s]."""
        return sum(stroke.seconds for stroke in self.strokes)

    @property
    def gun_s(self) -> float:
        """The same at the full flow: a fan that is closed down sprays less [s]."""
        return sum(stroke.seconds * stroke.fan for stroke in self.strokes)

    @cached_property
    def paint(self) -> Paint:
        """Where the paint goes."""
        sprayed = self.gun_s * self.gun.flow_ml_min / 60.0
        mm2 = self.panel.w_mm * self.panel.h_mm / self.um.size
        face = float(self.on_um.sum()) * mm2 / 1e6 / self.wanted.solids
        returns = sum(self._return_ml(each) for each in self.returns)
        return Paint(face, returns, sprayed * self.gun.lands - face - returns, sprayed * (1.0 - self.gun.lands))

    def _return_ml(self, each: Return) -> float:
        left, top, right, bottom = self.panel.boxes[int(each.edge.split()[1])]
        length = right - left if each.edge.startswith(("upper", "lower")) else bottom - top
        return each.mean_um * length * self.panel.return_mm / 1e6 / self.wanted.solids


def _middles(length: float, cells: int) -> np.ndarray:
    return (np.arange(cells) + 0.5) * (length / cells)


def cells_of(panel: Panel, fine: int = FINE) -> tuple[int, int]:
    """(rows, columns) of the map of a face with so many cells along its longer side."""
    longer = max(panel.w_mm, panel.h_mm)
    return max(8, round(fine * panel.h_mm / longer)), max(8, round(fine * panel.w_mm / longer))


def film_of(
    panel: Panel, gun: Gun, strokes: Sequence[Stroke], wanted: Wanted, shape: tuple[int, int] | None = None
) -> PassMap:
    """The film that strokes leave; shape: (rows, columns) of the map.

    Strokes run along the map, so all of one direction are one matrix product: what each leaves across by what it leaves
    along. Besides the map memory holds two matrices of strokes by rows and by columns.
    """
    rows, columns = shape or cells_of(panel)
    x, y = np.linspace(0.0, panel.w_mm, columns + 1), np.linspace(0.0, panel.h_mm, rows + 1)
    um = _laid([s for s in strokes if s.along == "x"], y, x, gun, wanted.solids)
    upright = [s for s in strokes if s.along == "y"]
    if upright:
        um += _laid(upright, x, y, gun, wanted.solids).T
    returns = _returns(panel, gun, strokes, wanted.solids)
    return PassMap(panel, gun, tuple(strokes), wanted, um, _holes(panel, x, y), returns)


def _laid(strokes: Sequence[Stroke], across: np.ndarray, along: np.ndarray, gun: Gun, solids: float) -> np.ndarray:
    """What strokes of one direction leave [µm], rows across by columns along: the mean over a cell across, and as in
    the middle of the cell along.
    """
    if not strokes:
        return np.zeros((across.size - 1, along.size - 1))
    step = across[1] - across[0]
    shares = np.column_stack([_across(across - stroke.at_mm, stroke, gun) for stroke in strokes]) / step
    films = np.array([stroke.fan * gun.dry_mm3_s(solids) / stroke.speed_m_s for stroke in strokes])
    return np.asarray(shares @ (_along((along[:-1] + along[1:]) / 2.0, strokes, gun) * films[:, None]))


def _across(edges: np.ndarray, stroke: Stroke, gun: Gun) -> np.ndarray:
    """Share of the fan's paint in each strip between edges [mm from the stroke's middle]."""
    if not stroke.tilted:
        return np.diff(gun.below(edges / stroke.fan))
    # At 45° over an edge the fan lies √2 as wide on the face, and the half beyond the edge is not on it.
    inward = edges if stroke.edge.startswith(("upper", "left")) else -edges
    if not stroke.edge.endswith(" 0"):
        inward = -inward
    return np.abs(np.diff(gun.below(np.maximum(inward, 0.0) / np.sqrt(2.0) / stroke.fan)))


def _along(at: np.ndarray, strokes: Sequence[Stroke], gun: Gun) -> np.ndarray:
    """How much of its full film each stroke leaves at places along it [0..1]: strokes by places."""
    ends = np.array([sorted((stroke.from_mm, stroke.to_mm)) for stroke in strokes])[:, :, None]
    per = gun.sigma_mm * np.sqrt(2.0) * np.array([stroke.fan for stroke in strokes])[:, None]
    return np.asarray((erf((at - ends[:, 0]) / per) - erf((at - ends[:, 1]) / per)) / 2.0)


def _holes(panel: Panel, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """True for cells whose middle is cut out."""
    xs, ys = (x[:-1] + x[1:]) / 2.0, (y[:-1] + y[1:]) / 2.0
    found = np.zeros((ys.size, xs.size), dtype=bool)
    for left, top, right, bottom in panel.openings:
        found |= ((ys > top) & (ys < bottom))[:, None] & ((xs > left) & (xs < right))
    return found


def _returns(panel: Panel, gun: Gun, strokes: Sequence[Stroke], solids: float) -> tuple[Return, ...]:
    """The film on each return: from strokes that are tilted over its edge; what goes straight past it leaves none."""
    if not panel.return_mm:
        return ()
    depth = np.linspace(0.0, panel.return_mm, RETURN_CELLS + 1)
    found = []
    for box, (left, top, right, bottom) in enumerate(panel.boxes):
        ends = {"upper": (left, right), "right": (top, bottom), "lower": (left, right), "left": (top, bottom)}
        for side, (begin, end) in ends.items():
            um = np.zeros((RETURN_CELLS, RETURN_LONG))
            for stroke in (s for s in strokes if s.tilted and s.edge == f"{side} {box}"):
                share = np.diff(gun.below(depth / np.sqrt(2.0) / stroke.fan)) / (depth[1] - depth[0])
                along = _along(begin + _middles(end - begin, RETURN_LONG), [stroke], gun)[0]
                um += np.outer(share, along) * (stroke.fan * gun.dry_mm3_s(solids) / stroke.speed_m_s)
            found.append(Return(f"{side} {box}", um))
    return tuple(found)
