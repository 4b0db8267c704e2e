"""What looks after years say of a system, beside its name."""

from django.template import Library
from django.utils.html import format_html

from emplastra.shared.links import Go
from emplastra.state.held import of_system

register = Library()


@register.simple_tag
def held_short(name):
    """ ", held 6 of 7" for a list to choose from; "" where nobody looked."""
    found = of_system(name)
    return f" · held {found.held} of {found.of}" if found.of else ""


@register.simple_tag
def held_line(name):
    """Whether a system held here, with a link to the cases; "" where nobody looked."""
    found = of_system(name)
    if not found.of:
        return ""
    return format_html(
        '<a class="held-line" href="{}">{}</a>', Go("handover:held").asking(system=name).address, found.sentence
    )
