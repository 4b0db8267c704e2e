"""The bands over every page and a token for acts by one tap, made only where a template asks for them."""

from django.utils.functional import SimpleLazyObject

from emplastra.logbook.running import just_done, newest_entry
from emplastra.say.book import book_of
from emplastra.shared.services import new_token

from .begin import first_steps


def _newest(request):
    """Number of the newest entry of all, as it was when the page was worked out."""
    return request.book.facts.newest if hasattr(request, "book") else newest_entry()


def bands(request):
    """air: the air band; route: stages with counts, whole on Bench and Jobs, one line elsewhere."""
    if not getattr(request, "user", None) or not request.user.is_authenticated:
        return {}
    match = request.resolver_match
    return {
        "air": SimpleLazyObject(lambda: book_of(request).band(getattr(request, "zone_in_view", None))),
        "token": SimpleLazyObject(new_token),
        "newest": SimpleLazyObject(lambda: _newest(request)),
        "just_done": SimpleLazyObject(lambda: just_done(request.user)),
        "begin": SimpleLazyObject(lambda: first_steps(book_of(request), request.user)),
        "route_is_slim": not match or match.view_name not in {"bench:home", "bench:jobs"},
        "route": SimpleLazyObject(lambda: book_of(request).stages()),
    }
