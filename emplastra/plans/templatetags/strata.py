"""How plans are drawn."""

from django.template import Library

register = Library()
FULL_PX, MOST_PX = 300.0, 354.0


@register.filter
def share_of(value, most):
    """How far a bar goes [px] that is full at the most; past it at most a little."""
    return f"{min(MOST_PX, FULL_PX * value / most):.1f}" if value and most else "0"
