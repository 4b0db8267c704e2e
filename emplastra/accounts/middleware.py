"""Who may come in, and to what."""

import ipaddress

from django.conf import settings
from django.contrib.auth.views import redirect_to_login
from django.core.cache import cache
from django.http import HttpResponse, HttpResponseForbidden
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from emplastra.shared.middleware import SAFE, stopped

from .models import Happening, User, Workshop
from .permissions import Right, may, right_of
from .security import note, note_export


class PrivateNetworkOnly:
    """In the lan profile, answer private addresses only: plain HTTP must not leave the house."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if settings.PROFILE == "lan" and not ipaddress.ip_address(request.META["REMOTE_ADDR"]).is_private:
            return HttpResponseForbidden(
                "Emplastra answers here on the workshop's own network only.", content_type="text/plain"
            )
        return self.get_response(request)


def _is_taken_out(request, response):
    """True for a file that is kept outside the workshop: what an answer calls so, and a job's dossier."""
    if response.status_code != 200 or not request.user.is_authenticated:
        return False
    told = response.headers.get("Content-Disposition", "")
    return told.startswith("attachment") or (told and request.resolver_match.view_name == "handover:pdf")


def _is_a_tap(request, name):
    """True for what somebody asks for; False for what an open page asks for by itself, again and again."""
    if request.method in SAFE:
        return not request.htmx and request.headers.get("Sec-Fetch-Dest") != "empty"
    return name != "work:pot-preview"


class SignInEverywhere:
    """Sign-in for every view that is not public, and the role each asks for."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        request.workshop = SimpleLazyObject(Workshop.current)
        response = self.get_response(request)
        if _is_taken_out(request, response):
            note_export(request, request.path)
        return response

    def process_view(self, request, view, args, kwargs):
        name = request.resolver_match.view_name
        right = right_of(name)
        if right is Right.OPEN:
            return None
        if not request.user.is_authenticated:
            return self._ask(request)
        if may(request.user, name, request.method):
            if _is_a_tap(request, name):
                request.session.touch()
            return None
        note(Happening.REFUSED, request, words=f"{request.method} {request.path}")
        if right in {Right.OWNER, Right.DECIDE}:
            return self._refuse(request, "Only an owner can do this.")
        return self._refuse(request, "Your role is viewer: it can read everything and log nothing.")

    def _ask(self, request):
        if not User.objects.exists():
            return redirect("accounts:first-run")
        if request.htmx:
            answer = render(request, "accounts/strip.html", {"next": request.htmx.current_url_abs_path or "/"})
            answer.status_code = 401
            answer.headers["HX-Reselect"], answer.headers["HX-Reswap"] = ".strip", "innerHTML"  # whatever was asked for
            return answer
        back = request.get_full_path()
        if request.method not in SAFE:
            back = request.META.get("HTTP_REFERER", back)
        return redirect_to_login(back, reverse("accounts:sign-in"))

    def _refuse(self, request, sentence):
        if request.htmx:
            return HttpResponse(sentence, status=403, content_type="text/plain; charset=utf-8")
        return render(request, "accounts/refused.html", {"sentence": sentence}, status=403)


class Quota:
    """So much of files somebody may send in a day; counted since the server was started."""

    DAY_S = 86400

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        size = request.META.get("CONTENT_LENGTH") or "0"
        if not request.user.is_authenticated or "multipart" not in request.META.get("CONTENT_TYPE", ""):
            return None
        key = f"sent-{request.user.pk}"
        cache.add(key, 0, self.DAY_S)
        if cache.incr(key, int(size)) <= settings.UPLOADS_A_DAY:
            return None
        cache.decr(key, int(size))
        note(Happening.REFUSED, request, words=f"more files in a day than are taken, at {request.path}")
        most = settings.UPLOADS_A_DAY // 1_000_000
        return stopped(f"You have sent files of {most} MB within a day; that many are taken. Go on tomorrow.", 429)
