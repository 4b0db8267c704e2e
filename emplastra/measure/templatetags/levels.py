"""Depths as a page of level shows them: with their sign, to the hundredth."""

from django.template import Library

from emplastra.core.words import length_q

register = Library()


def _sign(mm):
    return "−" if mm < 0 else "+"


@register.filter
def signed_length(mm):
    """A depth [mm] with its sign and unit."""
    if abs(mm) < 0.005:
        return length_q(0.0)
    return f"{_sign(mm)}{length_q(abs(mm), digits=2)}"


@register.filter
def signed_bare(mm):
    """A depth [mm] with its sign alone."""
    return f"{_sign(mm)}{length_q(abs(mm), digits=1, unit=False)}" if abs(mm) > 1e-9 else "0"


@register.filter
def mm_words(mm):
    """A length [mm]."""
    return length_q(mm)


@register.filter
def mm_fine(mm):
    """A small length [mm], to the hundredth."""
    return length_q(mm, digits=2)
