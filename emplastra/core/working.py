"""How a figure was made: what went in, what was done with it, what came out."""

from dataclasses import dataclass
from enum import StrEnum


class Basis(StrEnum):
    """Where a value came from; the page draws each kind differently."""

    MEASURED = "measured"
    SHEET = "data sheet"
    TYPED = "typed in"
    COMPUTED = "computed"
    ESTIMATED = "estimated"
    FORECAST = "forecast"
    ASSUMED = "assumed"


@dataclass(frozen=True)
class Unknown:
    """A figure that nobody told: which field of a sheet it is, and how it is called ("the solids of Hardener")."""

    field: str
    called: str

    @property
    def sentence(self) -> str:
        """What a page says in its place."""
        return f"cannot say: {self.called} not told"


@dataclass(frozen=True)
class Figure:
    """A value and what it rests on."""

    value: float
    basis: "Basis"


@dataclass(frozen=True)
class Given:
    """One input. value [unit]; `source` says in words where it was taken from."""

    name: str
    value: float | str
    unit: str = ""
    basis: Basis = Basis.TYPED
    source: str = ""


@dataclass(frozen=True)
class Line:
    """One line of arithmetic: what it gives, the sum written out, the result [unit]."""

    name: str
    sum: str
    value: float | str
    unit: str = ""


@dataclass(frozen=True)
class Working:
    """The whole way to a figure, for the page to open."""

    title: str
    given: tuple[Given, ...] = ()
    lines: tuple[Line, ...] = ()
    source: str = ""
