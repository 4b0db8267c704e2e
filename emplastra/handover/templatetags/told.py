"""A dossier's sentences and drawings in its pages; the same words as in its PDF."""

from django.template import Library
from django.utils.html import escape, format_html, format_html_join
from django.utils.safestring import mark_safe

from emplastra.core.words import film_q

from ..dossier import METAL_PX, years_on

register = Library()


@register.simple_tag
def says(told, name, *about):
    """A sentence of Told by its name, about something; quantities are written at the edge."""
    return getattr(told, name)(*about)


@register.simple_tag
def bold(told, name, about):
    """(text, is bold) pairs of Told as HTML."""
    parts = ((format_html("<b>{}</b>", text) if strong else text,) for text, strong in getattr(told, name)(about))
    return format_html_join("", "{}", parts)


@register.simple_tag
def cells(told, name, *about):
    """A row of Told as cells of a table."""
    return format_html_join("", "<td>{}</td>", ((cell,) for cell in getattr(told, name)(*about)))


@register.simple_tag
def pair_of(told, name, about):
    """Two texts of Told, the second in soft ink."""
    first, second = getattr(told, name)(about)
    return format_html('{} <span class="soft">{}</span>', first, second)


@register.filter
def stratum_film(stratum, told):
    """(film, by what it is known) of a layer."""
    return told.stratum(stratum)


@register.filter
def stratum_when(stratum, told):
    """(day, batches) of a layer."""
    return told.stratum_when(stratum)


@register.filter
def hours(money, told):
    """Rows of hours by kind of work."""
    return told.hours(money)


@register.filter
def month_of(day, told):
    """A month with its year."""
    return told.month(day)


@register.filter
def lower_first(text):
    """The same beginning small."""
    return text[:1].lower() + text[1:]


@register.simple_tag
def strata(page):
    """The layers of a face as SVG, from the metal up, to scale."""
    high, parts = page.height + 8, []
    for s in page.strata:
        y, x = high - 4 - s.y - s.height, 64 if s.partly else 44
        parts += _box(x, y, 164 - x, s.height, s.hatch, escape(s.colour), f"c-{s.basis.replace(' ', '-')}")
        if s.broken:
            parts.append(_break(x, y + s.height / 2))
        parts.append(
            f'<text x="38" y="{y + 12:.1f}" text-anchor="end" class="built-um">{film_q(s.top_um, unit=False)}</text>'
        )
    parts += _box(44, high - 4 - METAL_PX, 120, METAL_PX, "metal", "#8b939b", "")
    return _svg("built-stack", 176, high, f"Layers of {page.zone.name}, from the metal up", parts)


def _svg(css, wide, high, label, parts):
    """A drawing for a page; numbers are ours, names are escaped."""
    return mark_safe(
        f'<svg viewBox="0 0 {wide} {high:.0f}" class="{css}" role="img" aria-label="{escape(label)}">'
        f"{''.join(parts)}</svg>"
    )


def _box(x, y, wide, high, hatch, colour, css):
    """A layer: its colour, its hatch."""
    at = f'x="{x}" y="{y:.1f}" width="{wide}" height="{high:.1f}"'
    return (
        f'<rect {at} fill="{colour}" />',
        f'<rect {at} fill="url(#h-{escape(hatch)})" class="c-edge {css}" />',
    )


def _break(x, y):
    """The mark of what is not to scale."""
    return f'<path class="c-break" d="M{x - 4} {y + 3:.1f} L168 {y - 3:.1f} V{y + 1:.1f} L{x - 4} {y + 7:.1f} Z" />'


def _line(css, x, y, to_x, to_y):
    return f'<line x1="{x:.1f}" y1="{y:.1f}" x2="{to_x:.1f}" y2="{to_y:.1f}" class="{css}" />'


def _text(x, y, words, css="soft", anchor="start"):
    return f'<text x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}" class="{css}">{words}</text>'


@register.simple_tag
def ruler(page):
    """All readings of a gauge on one ruler, with what was asked."""
    readings, asked = page.readings, page.asked
    marks = [*readings, *([asked.nominal_um] if asked else [])]
    pad = max(4.0, 0.12 * (max(marks) - min(marks)))
    low, span = min(marks) - pad, max(marks) - min(marks) + 2 * pad
    at = lambda um: 10 + 580 * (um - low) / span  # noqa: E731
    parts = [_line("built-axis", 10, 34, 590, 34), *(_line("built-tick", at(um), 26, at(um), 42) for um in readings)]
    if asked:
        x = at(asked.nominal_um)
        parts += [
            _line("built-asked", x, 20, x, 48),
            _text(x, 62, f"asked {film_q(asked.nominal_um)}", anchor="middle"),
        ]
    parts.append(f'<path d="M{at(sum(readings) / len(readings)):.1f} 24 l-5 -9 h10 Z" class="built-mean" />')
    parts += [_text(at(um), 14, film_q(um, unit=False), anchor="middle") for um in (readings[0], readings[-1])]
    return _svg("built-ruler", 600, 68, f"{len(readings)} readings", parts)


@register.simple_tag
def years(page, d):
    """The looks of a face on a line of years: a diamond each, the first one filled."""
    pitch, left, high, parts = 560 / len(d.years), 20, 26 + 44 * len(page.looks), []
    for n, year in enumerate(d.years):
        x = left + n * pitch
        parts += [_text(x, 14, year), _line("built-year", x, 20, x, high)]
    for i, look in enumerate(page.looks):
        y = 54 + 44 * i
        said = f'<tspan class="is-strong">{escape(look.what)}</tspan> <tspan class="soft">{escape(look.sign)}</tspan>'
        parts += [_text(left, y - 14, said, "built-look"), _line("built-line", left, y, 590, y)]
        for n, day in enumerate(look.dates(d.until)):
            x = left + pitch * years_on(day, d.years[0])
            css = "built-day is-first" if n == 0 else "built-day"
            parts.append(f'<path d="M{x:.1f} {y - 6} l6 6 l-6 6 l-6 -6 Z" class="{css}" />')
    return _svg("built-years", 600, high, f"When to look at {page.zone.name}", parts)
