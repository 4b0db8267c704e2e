"""Codes that lead to a page."""

import segno
from django.utils.safestring import mark_safe


def code_of(request, address):
    """An address of ours as a QR code with the host that it was asked from: an inline SVG without styles."""
    whole = request.build_absolute_uri(address)
    return mark_safe(segno.make(whole, error="m").svg_inline(border=2, omitsize=True, svgclass="qr"))
