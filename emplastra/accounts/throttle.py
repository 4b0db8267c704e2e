"""What the counting of wrong tries is told and what is shown once there were too many."""

from django.shortcuts import render

from .models import Happening
from .names import name_key
from .security import note

SENTENCE = "Too many wrong tries for this name from here: wait 5 minutes, then try again."


def name_of(request, credentials=None):
    """The name that a try is counted for, as it looks."""
    typed = (credentials or {}).get("username") or (request.POST.get("username", "") if request else "")
    return name_key(typed)[:100]


def locked_out(request, original=None, credentials=None):
    """The sign-in page, shut for a while."""
    from .forms import SignInForm

    note(Happening.LOCKED, request, name=name_of(request, credentials))
    context = {"form": SignInForm(request), "shut": SENTENCE, "next": request.POST.get("next", "")}
    return render(request, "accounts/sign_in.html", context, status=429)
