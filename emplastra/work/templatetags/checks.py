"""The checks that a zone can answer, as buttons. Written in code: Bench draws hundreds of them."""

from functools import lru_cache

from django.template import Library
from django.utils.html import escape, format_html
from django.utils.safestring import mark_safe

from emplastra.core.surface.events import CHECKS
from emplastra.say.taps import tap

register = Library()


@register.simple_tag
def check_buttons(keys, zone_id):
    """A button for each answer of these checks of a zone."""
    return mark_safe("".join(_check(key).replace("~zone~", str(zone_id)) for key in keys))  # words of our own, a number


@lru_cache(maxsize=64)
def _check(key):
    """A check with its two answers; ~zone~ stands for the zone."""
    check = CHECKS[key]
    answers = ((1, check.passes), (0, check.fails))
    buttons = "".join(
        format_html(
            '<button form="acts" name="act" value="{}" type="submit" class="button is-small">{}</button>',
            tap("checked", "~zone~", said=f"{key}:{n}"),
            word,
        )
        for n, word in answers
    )
    return f"<p><b>{escape(check.name)}</b>{buttons}</p>"
