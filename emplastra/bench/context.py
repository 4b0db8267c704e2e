"""The bands over every page, worked out only where a template asks for them."""

from django.utils.functional import SimpleLazyObject

from emplastra.state.book import book_of


def bands(request):
    """air: the air band; route: stages with counts."""
    if not getattr(request, "user", None) or not request.user.is_authenticated:
        return {}
    return {
        "air": SimpleLazyObject(lambda: book_of(request).band(getattr(request, "zone_in_view", None))),
        "route": SimpleLazyObject(lambda: book_of(request).stages()),
    }
