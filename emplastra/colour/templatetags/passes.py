"""Figures of a pass as pages write them."""

from functools import partial

from django.template import Library

from emplastra.core import words
from emplastra.shared.templatetags.show import _marked

register = Library()
register.filter("speed_q", partial(_marked, partial(words.quantity, "speed", digits=2)))
register.filter("flow_q", partial(_marked, partial(words.quantity, "flow", digits=0)))
register.filter("mm_q", partial(_marked, partial(words.length_q, digits=0)))


@register.filter
def returns_span(ends):
    """Films of returns from the least to the most [µm], once where they are alike."""
    low, high = ends
    return words.film_q(*((low,) if high - low < 0.1 else (low, high)), digits=1)


@register.filter
def film_tenth(um):
    """A film to a tenth [µm], its unit said elsewhere."""
    return words.film_q(um, digits=1, unit=False)


@register.simple_tag
def film_and_spread(film):
    """ "6.0 µm ± 5 %" of a film of a pass."""
    spread = f" ± {100 * film.spread_um / film.mean_um:.0f} %" if film.mean_um > 0 else ""
    return f"{words.film_q(film.mean_um, digits=1)}{spread}"


@register.simple_tag
def edge_build(film):
    """How much more there is at its edges: "+31 %"."""
    return f"{100 * film.edge_build:+.0f} %".replace("-", "−")


@register.filter
def above(value):
    """A figure without its sign."""
    return abs(value)


@register.filter
def film_tenth_unit(um):
    """A film to a tenth [µm], with its unit."""
    return words.film_q(um, digits=1)


@register.filter
def lower_first(text):
    """A name within a sentence."""
    return text[:1].lower() + text[1:]


BAR = 318.0
"""How wide the bar of a film is."""


@register.filter
def film_bars(remedy):
    """Where the film that is there, what a remedy takes and what is to be kept stand in one bar of a remedy."""
    there, takes, keep = remedy.film.there_um or 0.0, remedy.takes_um, remedy.film.keep_um
    scale = BAR / max(there, keep * 1.25, takes, 1.0)
    off = min(takes, there)
    x = round(keep * scale, 1)
    found = {
        "there": round(there * scale, 1),
        "left": round((there - off) * scale, 1),
        "takes": round(off * scale, 1),
        "keep": x,
    }
    return found | {"keep_x": x, "keep_at": "end" if x > BAR / 2 else "start"}
