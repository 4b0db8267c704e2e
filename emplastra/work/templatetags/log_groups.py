"""What Log offers, in its groups."""

from types import SimpleNamespace

from django.template import Library

from emplastra.logbook.kind import GROUPS
from emplastra.logbook.models import KINDS

register = Library()


@register.simple_tag
def log_groups():
    """The groups of Log with their kinds, in order."""
    return [
        SimpleNamespace(name=name, kinds=[kind for kind in KINDS.values() if kind.group == key])
        for key, name in GROUPS.items()
    ]
