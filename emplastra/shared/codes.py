"""Codes that lead to a page."""

import segno
from django.utils.safestring import mark_safe


def code_of(request, address):
    """An address of ours as a QR code with the host that it was asked from: an inline SVG without styles."""
    return drawn_of(request.build_absolute_uri(address))


def drawn_of(text):
    """A text as a QR code: an inline SVG without styles."""
    return mark_safe(segno.make(text, error="m").svg_inline(border=2, omitsize=True, svgclass="qr"))
