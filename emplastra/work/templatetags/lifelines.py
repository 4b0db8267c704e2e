"""The lifeline and the states' shapes as SVG. Written in code: Windows draws hundreds of shapes, and all of them
are numbers of ours.
"""

from django.template import Library
from django.utils.safestring import mark_safe

register = Library()

_RECT = '<rect x="{x:g}" y="{y}" width="{w:g}" height="{h}" class="l-{kind} b-{basis}{more}"{data} />'
_RECTS = {"missed": (26, 12), "shut": (26, 12), "open": (14, 36), "keep-wet": (18, 28)}
"""y and height of the kinds that are rectangles; others 20 and 24."""


_MARKS = {
    "bare": '<polyline points="1,12 5,4 9,12 13,4 17,12" />',
    "closing": '<path d="M2 2 L18 7 L18 9 L2 14 Z" />',
    "open": '<rect x="2" y="3" width="16" height="10" />',
    "missed": '<path d="M2 13 L2 3 M7 13 L7 3 M12 13 L12 3 M17 13 L17 3" class="thick" />',
    "waiting": '<path d="M2 13 L8 3 M8 13 L14 3 M14 13 L20 3" />',
    "keep-wet": '<path d="M10 1 C13 6 15 8 15 11 A5 4 0 0 1 5 11 C5 8 7 6 10 1 Z" />',
    "away": '<path d="M2 8 H15 M11 3 L17 8 L11 13" />',
    "look": '<path d="M1 8 C5 2 15 2 19 8 C15 14 5 14 1 8 Z M10 5 V11" />',
    "stopped": '<path d="M1 8 H6 M14 8 H19" stroke-dasharray="3 2" /><rect x="7" y="1" width="6" height="14" class="block" />',
    "resting": '<line x1="2" y1="8" x2="18" y2="8" />',
}
"""A state's own shape, in a box of 20 by 16."""


@register.simple_tag
def state_mark(status):
    """The shape of a state; a dashed line for one that has none."""
    shape = _MARKS.get(status, '<path d="M3 8 H17" stroke-dasharray="3 3" />')
    return mark_safe(f'<svg viewBox="0 0 20 16" class="state-mark" aria-hidden="true" focusable="false">{shape}</svg>')


@register.simple_tag
def lifeline(marks, scale, now_x, coat=None, days=(), changes=(), stop=None):
    """A zone's hours. coat: entry id, if its coat can be tried at another hour; days, changes: abscissae; stop: what
    stops the next act stands across it as a plank.
    """
    parts = [f'<line x1="{x:g}" x2="{x:g}" y1="0" y2="64" class="grid" />' for x in days or ()]
    parts += [f'<line x1="{x:g}" x2="{x:g}" y1="0" y2="64" class="l-change" />' for x, _ in changes or ()]
    for mark in marks:
        parts.append(_shape(mark, coat))
    parts.append(f'<line x1="{now_x:g}" y1="0" x2="{now_x:g}" y2="64" class="l-now" />')
    if stop is not None:
        parts.append(f'<rect x="{now_x:g}" y="2" width="12" height="60" class="l-stop" />')
    head = (
        f'<svg viewBox="0 0 {scale.width:g} {scale.height:g}" class="lifeline" preserveAspectRatio="none" '
        f'aria-hidden="true" focusable="false">'
    )
    return mark_safe(f"{head}{''.join(parts)}</svg>")  # numbers and class names of our own, nothing typed


def _shape(mark, coat):
    end = mark.x + mark.width
    if mark.kind == "closing":
        return f'<polygon points="{mark.points}" class="l-closing b-{mark.basis}" />'
    if mark.kind in {"bare", "overdue"}:
        due = (
            f'<line x1="{end:g}" y1="6" x2="{end:g}" y2="58" class="l-due" />'
            if mark.ends and mark.kind == "bare"
            else ""
        )
        return f'<polyline points="{mark.points}" class="l-{mark.kind} b-{mark.basis}" />{due}'
    if mark.kind == "away":
        return f'<line x1="{mark.x:g}" x2="{end:g}" y1="32" y2="32" class="l-away" />'
    y, height = _RECTS.get(mark.kind, (20, 24))
    drag = mark.kind == "wet" and coat
    data, more = (f' data-coat="{int(coat)}"', " drag") if drag else ("", "")
    return _RECT.format(x=mark.x, y=y, w=mark.width, h=height, kind=mark.kind, basis=mark.basis, more=more, data=data)
