"""You: one's own password, second factor and devices, whatever one's role."""

from django.contrib import messages
from django.contrib.auth import logout, update_session_auth_hash
from django.http import HttpResponseRedirect
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from emplastra.shared import clock
from emplastra.shared.codes import drawn_of
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from . import factor, services
from .forms import FactorForm, OwnForm, OwnPasswordForm
from .models import Happening
from .security import note

TRIES = 5
"""So many wrong tries at one's own password sign one out."""


def you(request):
    """What is one's own."""
    sessions = list(request.user.sessions.filter(expire_date__gt=timezone.now()))
    for session in sessions:
        session.shown_begun, session.shown_seen = clock.as_here(session.begun), clock.as_here(session.seen)
    context = {
        "sessions": sessions,
        "here": request.session.session_key,
        "factor": getattr(request.user, "second_factor", None),
        "spare": request.session.pop("spare", None),
    }
    return render(request, "accounts/you.html", context)


class OwnView(OnceView):
    """A form that asks one's own password first; too many wrong ones sign one out."""

    def form_kwargs(self):
        return {"user": self.request.user}

    def post(self, request, **kwargs):
        answer = super().post(request, **kwargs)
        if answer.status_code == 422 and "password_now" in self.asked.errors and request.POST.get("password_now"):
            return self._count(answer)
        return answer

    def show(self, form, status=200, **more):
        self.asked = form
        return super().show(form, status, **more)

    def _count(self, answer):
        request = self.request
        note(Happening.WRONG, request, words=f"own password, at {request.path}")
        tries = request.session["wrong"] = request.session.get("wrong", 0) + 1
        if tries < TRIES:
            return answer
        note(Happening.LOCKED, request, words="own password: signed out")
        logout(request)
        return redirect("accounts:sign-in")


class OwnPassword(OwnView):
    """A new password of one's own; one is signed out everywhere else."""

    form_class = OwnPasswordForm
    action = "own password"
    heading = "Change your password"
    button = "Change it"
    done = "Your password is changed. You are signed out everywhere else."

    def carry_out(self, form):
        request = self.request
        services.change_password(request.user, form.cleaned_data["password"], request.session.session_key)
        update_session_auth_hash(request, request.user)
        request.session.pop("wrong", None)
        note(Happening.PASSWORD, request, words="changed by themselves; signed out everywhere else")
        return reverse("accounts:you")


class Factor(OwnView):
    """A second factor, taken once a first code proves it."""

    form_class = FactorForm
    template = "accounts/factor.html"
    action = "second factor"
    heading = "A second factor"
    button = "Take it"
    done = "From now on a code is asked for after your password."

    def dispatch(self, request, *args, **kwargs):
        if request.method == "GET" or "factor" not in request.session:
            offered = factor.offer(request.user, request.workshop)
            request.session["factor"] = [offered.secret, offered.address]
        return super().dispatch(request, *args, **kwargs)

    def context(self, form):
        secret, address = self.request.session["factor"]
        parts = " ".join(secret[at : at + 4] for at in range(0, len(secret), 4))
        return {"secret": parts, "drawn": drawn_of(address)}

    def carry_out(self, form):
        secret, _ = self.request.session["factor"]
        spare = factor.turn_on(self.request.user, secret, form.cleaned_data["code"])
        if spare is None:
            raise Refused(
                "is not the one it shows now: type the newest; the hour of phone and workshop must agree", "code"
            )
        self.request.session["spare"] = spare
        del self.request.session["factor"]
        note(Happening.FACTOR, self.request, words="taken")
        return reverse("accounts:you")


class FactorOff(OwnView):
    """The second factor given up."""

    form_class = OwnForm
    action = "second factor off"
    heading = "Give up the second factor"
    button = "Give it up"
    done = "You sign in by password alone now."

    def carry_out(self, form):
        services.drop_factor(self.request.user, self.request.user)
        note(Happening.FACTOR, self.request, words="given up")
        return reverse("accounts:you")


@require_POST
def end_session(request):
    """Sign out on one other device."""
    mine = request.user.sessions.exclude(session_key=request.session.session_key)
    for session in mine:
        if session.mark == request.POST.get("device"):
            session.delete()
            note(Happening.SIGNED_OUT, request, words=f"on {session.device}, {session.address}")
            messages.success(request, "Signed out there.")
    return HttpResponseRedirect(reverse("accounts:you"))


@require_POST
def end_others(request):
    """Sign out everywhere but here."""
    count = services.sign_out(request.user, request.session.session_key)
    note(Happening.SIGNED_OUT, request, words=f"everywhere else ({count})")
    messages.success(request, f"Signed out on {count} other device{'' if count == 1 else 's'}.")
    return HttpResponseRedirect(reverse("accounts:you"))
