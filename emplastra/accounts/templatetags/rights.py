"""What a template asks before it shows a button."""

from django import template

from emplastra.accounts.permissions import may

register = template.Library()


@register.filter(name="may")
def may_send(user, address):
    """True if somebody may send to an address (its name): `{% if user|may:"jobs:file" %}`."""
    return may(user, address)


@register.filter
def may_see(user, address):
    """True if somebody may look at an address (its name)."""
    return may(user, address, "GET")
