"""What is refused before anything is read or recorded."""

from django.http import HttpResponse
from django.template.loader import render_to_string

from emplastra.core.words import OPEN, written

from . import clock, standing
from .times import moment

SAFE = {"GET", "HEAD", "OPTIONS"}
MAX_BODY = 30_000_000
"""The longest body that is read [bytes], but where a view says otherwise by `max_body`."""


def stopped(sentence, status):
    """A page that needs neither database nor session."""
    return HttpResponse(render_to_string("stopped.html", {"sentence": sentence}), status=status)


class Guarded:
    """Refuse bodies that are too long, and all writing while the record is not protected."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        if request.method in SAFE:
            return None
        limit = getattr(getattr(view, "view_class", view), "max_body", MAX_BODY)
        size = request.META.get("CONTENT_LENGTH") or "0"
        if not size.isdecimal() or int(size[:20]) > limit:
            return stopped(
                f"What was sent is too long to be read: at most {limit // 1_000_000} MB are taken here.", 413
            )
        sentence = standing.fault()
        return stopped(sentence, 503) if sentence else None


class NotKept:
    """Pages are kept by nobody: by no browser after sign-out, by nothing between. Pictures say otherwise."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        response.headers.setdefault("Cache-Control", "no-store")
        return response


class Leads:
    """A form that the page sends by itself is told where it leads, so that the page can go there with all it has."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        if request.headers.get("X-Form") and response.status_code in {301, 302, 303}:
            response.status_code, response.headers["X-Go"] = 204, response.headers["Location"]
            del response.headers["Location"]
        return response


MARK = OPEN.encode()


class Written:
    """Puts the quantities of every sentence down in the workshop's units, in pages, drawings and exports alike."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        if not response.streaming and MARK in response.content:
            workshop = getattr(request, "workshop", None)
            text = response.content.decode(response.charset)
            if workshop is None:
                response.content = written(text)
            else:
                response.content = written(text, workshop.units, lambda t_s: moment(t_s, workshop.zone, clock.now()))
        return response
