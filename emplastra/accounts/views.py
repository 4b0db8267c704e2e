"""The door: sign-in, second factor, sign-out, first run, a password chosen by a private address; health, gloves."""

import ipaddress
import time

from axes.handlers.proxy import AxesProxyHandler
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth import views as auth
from django.contrib.auth.signals import user_login_failed
from django.http import HttpResponseRedirect, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme, urlencode
from django.views import View
from django.views.decorators.http import require_POST

from emplastra.shared import standing
from emplastra.shared.services import Refused

from . import factor, services
from .forms import ChosenPassword, CodeForm, FirstRunForm, SignInForm
from .models import Happening, User
from .security import address_of, note
from .sessions import device_of

HALF_S = 300.0
"""So long after the password the second factor may come [s]."""


def enter(request, user):
    """Sign somebody in on this device, and write that down."""
    request.session.told = (address_of(request), device_of(request.headers.get("User-Agent", "")))
    login(request, user, backend="axes.backends.AxesBackend")
    note(Happening.SIGNED_IN, request, who=user, words=f"on {request.session.told[1]}")


class SignIn(auth.LoginView):
    form_class = SignInForm
    template_name = "accounts/sign_in.html"

    def dispatch(self, request, *args, **kwargs):
        if not User.objects.exists():
            return redirect("accounts:first-run")
        return super().dispatch(request, *args, **kwargs)

    def form_valid(self, form):
        user = form.get_user()
        if hasattr(user, "second_factor"):
            self.request.session["half"] = {"user": user.pk, "at": time.time()}
            onward = urlencode({"next": self.get_redirect_url()})
            return HttpResponseRedirect(f"{reverse('accounts:second')}?{onward}")
        enter(self.request, user)
        return HttpResponseRedirect(self.get_success_url())

    def form_invalid(self, form):
        if not getattr(self.request, "axes_locked_out", False):
            note(Happening.WRONG, self.request, name=self.request.POST.get("username", ""))
        answer = super().form_invalid(form)
        answer.status_code = 422
        return answer


class SecondFactor(auth.RedirectURLMixin, View):
    """The code that is asked for after the password; wrong ones are counted like wrong passwords."""

    next_page = "bench:home"

    def dispatch(self, request, *args, **kwargs):
        half = request.session.get("half") or {}
        self.person = User.objects.filter(pk=half.get("user"), is_active=True).first()
        if self.person is None or time.time() - half["at"] > HALF_S:
            return redirect("accounts:sign-in")
        return super().dispatch(request, *args, **kwargs)

    def show(self, form, status=200):
        context = {"form": form, "next": self.get_redirect_url(), "person": self.person}
        return render(self.request, "accounts/second.html", context, status=status)

    def get(self, request):
        return self.show(CodeForm())

    def post(self, request):
        form, named = CodeForm(request.POST), {"username": self.person.username}
        if not AxesProxyHandler.is_allowed(request, named):
            request.axes_locked_out, request.axes_credentials = True, named
            return self.show(form, 429)  # the door's own page takes its place
        if form.is_valid() and factor.takes(self.person, form.cleaned_data["code"]):
            request.session.pop("half", None)
            enter(request, self.person)
            return HttpResponseRedirect(self.get_success_url())
        if form.is_valid():
            form.add_error("code", "is not right, or was used already: type the one that is shown now")
            user_login_failed.send(sender=__name__, request=request, credentials=named)
            note(Happening.WRONG, request, name=self.person.username, about=self.person, words="second factor")
        return self.show(form, 422)


class SignOut(auth.LogoutView):
    """Signed out here; the browser lets go of the pages it kept. What was typed and not sent yet stays there."""

    next_page = "accounts:sign-in"

    def post(self, request, *args, **kwargs):
        note(Happening.SIGNED_OUT, request)
        answer = super().post(request, *args, **kwargs)
        answer["Clear-Site-Data"] = '"cache"'
        return answer


class FirstRun(View):
    """The one-time code, the workshop and its first owner."""

    def dispatch(self, request, *args, **kwargs):
        if User.objects.exists():
            return redirect("accounts:sign-in")
        return super().dispatch(request, *args, **kwargs)

    def get(self, request):
        return render(request, "accounts/first_run.html", {"form": FirstRunForm()})

    def post(self, request):
        form = FirstRunForm(request.POST, request=request)
        if not form.is_valid():
            return render(request, "accounts/first_run.html", {"form": form}, status=422)
        fields = {k: v for k, v in form.cleaned_data.items() if k != "code"}
        try:
            enter(request, services.set_up(**fields))
        except Refused:
            return redirect("accounts:sign-in")
        return redirect("bench:home")


class ChoosePassword(View):
    """A password chosen by a private address, once."""

    def dispatch(self, request, secret):
        link = services.link_of(secret)
        if link is None:
            return render(request, "accounts/link_over.html", status=404)
        self.person = link.user
        return super().dispatch(request, secret)

    def show(self, form, status=200):
        return render(self.request, "accounts/choose.html", {"form": form, "person": self.person}, status=status)

    def get(self, request, secret):
        return self.show(ChosenPassword(user=self.person))

    def post(self, request, secret):
        form = ChosenPassword(request.POST, user=self.person)
        if not form.is_valid():
            return self.show(form, 422)
        try:
            services.choose_password(secret, form.cleaned_data["password"])
        except Refused:
            return render(request, "accounts/link_over.html", status=404)
        note(Happening.PASSWORD, request, who=self.person, words="chosen by an address; signed out everywhere")
        messages.success(request, "Your password is set: sign in with it.")
        return redirect("accounts:sign-in")


def health(request):
    """200 as long as the process answers, the database can be read and the record is protected; 503 says why not.

    Whoever asks from this machine, and an owner, is told more: versions and backups are nobody else's.
    """
    why = standing.fault()
    if why:
        return JsonResponse({"ok": False, "why": why}, status=503)
    found = {"ok": True, "set_up": User.objects.exists()}
    if _is_here(request) or getattr(request.user, "is_owner", False):
        found |= standing.told()
    return JsonResponse(found)


def _is_here(request):
    try:
        return ipaddress.ip_address(address_of(request)).is_loopback
    except ValueError:
        return False


@require_POST
def gloves(request):
    """Switch gloves mode on or off, on this device."""
    back = request.POST.get("next", "/")
    if not url_has_allowed_host_and_scheme(back, {request.get_host()}):
        back = "/"
    answer = HttpResponseRedirect(back)
    on = "0" if request.COOKIES.get("gloves") == "1" else "1"
    answer.set_cookie("gloves", on, max_age=31536000, samesite="Lax", secure=request.is_secure(), httponly=True)
    return answer


def csrf_failure(request, reason=""):
    """The sign-in changed under an open page: say so; the draft has kept what was typed."""
    if request.htmx:
        return render(request, "accounts/strip.html", {"next": request.htmx.current_url_abs_path or "/"}, status=401)
    back = request.META.get("HTTP_REFERER", "/")
    return render(request, "accounts/changed.html", {"back": back}, status=403)
