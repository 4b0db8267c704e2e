"""What was drawn on a face, small, as it stands in the record."""

from django.template import Library
from django.utils.html import escape
from django.utils.safestring import mark_safe

from emplastra.core.piece.face_grid import runs_of

register = Library()


@register.simple_tag
def face_mark(mark, name):
    """A face laid flat with the cells of a mark filled; name: what a reader is told that it shows."""
    columns, rows, runs = runs_of(mark)
    rects = "".join(f'<rect x="{c}" y="{r}" width="{n}" height="1" />' for c, r, n in runs)
    box = f'<rect x="0" y="0" width="{columns}" height="{rows}" class="is-face" />'
    # Numbers of ours, and a name that is escaped.
    return mark_safe(
        f'<svg class="face-mark" viewBox="-0.3 -0.3 {columns + 0.6} {rows + 0.6}" width="{columns * 5}" '
        f'height="{rows * 5}" role="img" aria-label="{escape(name)}">{box}{rects}</svg>'
    )
