"""The graph of access as SVG: acts in columns by what lies before them, an arrow for each edge."""

import textwrap

from django.utils.html import escape
from django.utils.safestring import mark_safe

from emplastra.core.metal.access import KINDS, columns, shown_edges

W, H, GAP_X, GAP_Y, LETTERS = 168, 62, 44, 16, 22


def graph(acts, rings):
    """The graph. rings: cycles, whose members stand out."""
    caught = {act.id for ring in rings for act in ring}
    places, stacks = {}, columns(acts)
    height = max(len(stack) for stack in stacks) * (H + GAP_Y) + GAP_Y
    for x, stack in enumerate(stacks):
        top = (height - len(stack) * (H + GAP_Y)) / 2
        for y, act in enumerate(stack):
            places[act.id] = (10 + x * (W + GAP_X), top + GAP_Y / 2 + y * (H + GAP_Y))
    width = 20 + len(stacks) * (W + GAP_X) - GAP_X
    lines = "".join(_edge(places[a], places[b], a in caught and b in caught) for a, b in shown_edges(acts))
    boxes = "".join(_box(act, *places[act.id], act.id in caught) for act in acts)
    return mark_safe(  # numbers of ours; names are escaped
        f'<svg viewBox="0 0 {width} {height:g}" width="{width}" height="{height:g}" class="access-graph" '
        f'role="img" aria-label="Order of openings, work and closings">'
        f'<defs><marker id="arrow" viewBox="0 0 8 8" refX="8" refY="4" markerWidth="7" markerHeight="7" '
        f'orient="auto"><path d="M0 0 L8 4 L0 8 Z" class="g-head" /></marker></defs>{lines}{boxes}</svg>'
    )


def _edge(a, b, caught):
    x1, y1, x2, y2 = a[0] + W, a[1] + H / 2, b[0], b[1] + H / 2
    if x2 <= x1:  # back, round the boxes: only in a cycle
        path = (
            f"M{x1 - W / 2:g} {a[1] + H:g} C{x1 - W / 2:g} {a[1] + H + 30:g} {x2 + W / 2:g} {b[1] + H + 30:g} "
            f"{x2 + W / 2:g} {b[1] + H + 2:g}"
        )
    else:
        path = f"M{x1:g} {y1:g} C{x1 + 22:g} {y1:g} {x2 - 24:g} {y2:g} {x2 - 2:g} {y2:g}"
    return f'<path d="{path}" class="g-edge{" is-caught" if caught else ""}" marker-end="url(#arrow)" />'


def _box(act, x, y, caught):
    lines = textwrap.wrap(act.what, LETTERS)[:2]
    text = "".join(
        f'<text x="{x + 10:g}" y="{y + 38 + 16 * i:g}">{escape(line)}</text>' for i, line in enumerate(lines)
    )
    state = " is-caught" if caught else " is-done" if act.done else ""
    return (
        f'<g class="g-act g-{act.kind}{state}"><rect x="{x:g}" y="{y:g}" width="{W}" height="{H}" /><text '
        f'x="{x + 10:g}" y="{y + 20:g}" class="g-kind">'
        f"{escape(KINDS[act.kind])}{' ✓' if act.done else ''}</text>{text}</g>"
    )
