"""A face laid flat, as its cells are drawn: to say on it what was covered."""

from dataclasses import dataclass

from emplastra.core.words import length_q

CELL = 20
"""A cell of a face as it is drawn on a form [px]."""


@dataclass(frozen=True)
class DrawnCell:
    """A cell as it is drawn: its place, and whether a coat before covers it."""

    column: int
    row: int
    before: bool

    @property
    def x(self):
        """Its left edge."""
        return self.column * CELL

    @property
    def y(self):
        """Its upper edge."""
        return self.row * CELL


class DrawnFace:
    """A face (FaceGrid) as it is drawn; before: the cells that are covered already."""

    def __init__(self, grid, before=()):
        self.grid, self.cells = grid, [DrawnCell(c, r, (c, r) in before) for c, r in grid.cells]
        self.width, self.height = grid.columns * CELL, grid.rows * CELL

    @property
    def said(self):
        """How large it is, in words."""
        return length_q(self.grid.w_mm, self.grid.h_mm, digits=0, joined=" by ")
