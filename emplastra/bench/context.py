"""The bands over every page and a token for acts by one tap, made only where a template asks for them."""

from django.utils.functional import SimpleLazyObject

from emplastra.say.book import book_of
from emplastra.shared.services import new_token


def bands(request):
    """air: the air band; route: stages with counts."""
    if not getattr(request, "user", None) or not request.user.is_authenticated:
        return {}
    return {
        "air": SimpleLazyObject(lambda: book_of(request).band(getattr(request, "zone_in_view", None))),
        "token": SimpleLazyObject(new_token),
        "route": SimpleLazyObject(lambda: book_of(request).stages()),
    }
