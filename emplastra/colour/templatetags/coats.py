"""Coats of a row as chips."""

from dataclasses import dataclass

from django.template import Library

from emplastra.core.colour.lab import light_of_hex
from emplastra.core.words import length_q
from emplastra.state.colour import Coat

from ..card_drawn import is_dark

register = Library()


@dataclass(frozen=True)
class Slot:
    """A place for a mid-coat in a row, or the line behind the chosen number."""

    coat: Coat | None = None
    n: int = 0
    css: str = ""
    is_line: bool = False


@register.filter
def slots(row):
    """Mid-coats of a row: those that are on, those to come, the line behind the chosen number, then those too many."""
    on, chosen = row.mid_coats, row.group.chosen
    planned = len(row.mids_planned)
    most = max(len(on), chosen or 0, len(on) + planned if chosen is None else 0)
    found = []
    for n in range(1, most + 1):
        coat = on[n - 1] if n <= len(on) else Coat(row.group.look(n), False)
        found.append(Slot(coat, n, "is-over" if chosen is not None and n > chosen else ""))
        if n == chosen:
            found.append(Slot(is_line=True))
    return found


@register.filter
def dark_word(colour):
    """The class of a figure on a colour: white on a dark one."""
    return "on-dark" if is_dark(light_of_hex(colour)) else "on-light"


@register.filter
def add_half(x, w):
    """The middle of a bar that begins at x and is w wide."""
    return f"{x + w / 2:.1f}"


@register.filter
def bar_x(x, w):
    """Where a bar of half the width begins."""
    return f"{x + w / 4:.1f}"


@register.filter
def times_list(count):
    """So many things to go through."""
    return range(count)


@register.filter
def mm_run(value):
    """A run along a panel [mm], to the centimetre."""
    return length_q(round(value, -1))


@register.filter
def plain(value):
    """A figure as a form sends it back, blank for none."""
    return f"{value:g}" if isinstance(value, float) else value


_BEADS = {
    "fillet": "M90 52 L90 12 L230 52 Z",
    "round": "M90 52 A70 40 0 0 1 230 52 Z",
    "band": "M60 52 L60 40 L260 40 L260 52 Z",
    "groove": "M130 52 L130 20 L190 20 L190 52 Z",
}


@register.filter
def bead_path(shape):
    """The section of a bead as drawn."""
    return _BEADS[shape]


@register.filter
def mm_exact(value):
    """A short length [mm]."""
    return length_q(value)
