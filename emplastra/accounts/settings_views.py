"""Settings: the workshop, its people, the security log. An owner's alone."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from emplastra.shared import asked
from emplastra.shared.answers import table
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from . import services
from .forms import PersonForm, SettingsForm
from .models import Happening, Role, SecurityEvent, User
from .security import note

SHOWN = 100
"""Lines of the security log on a page."""


class Settings(OnceView):
    """Workshop, time zone, units."""

    form_class = SettingsForm
    template = "accounts/settings.html"
    action = "settings"
    heading = "Settings"
    done = "Settings saved."
    fields = (
        "name",
        "time_zone",
        "units",
        "assumed_air_c",
        "assumed_rh_pct",
        "latitude",
        "longitude",
        "wet_prompt_min",
        "uneven_sprayed",
        "uneven_brushed",
        "hourly_rate",
        "currency",
        "open_hours",
        "idle_min",
        "guns",
    )

    def initial(self):
        return {name: getattr(self.request.workshop, name) for name in self.fields}

    def carry_out(self, form):
        was = self.request.workshop.idle_min
        services.change_workshop(self.request.user, **{name: form.cleaned_data[name] for name in self.fields})
        if was != form.cleaned_data["idle_min"]:
            words = f"signed out when still for {form.cleaned_data['idle_min']} min, was {was}"
            note(Happening.SETTING, self.request, words=words)
        return reverse("accounts:settings")


def people(request):
    """Who is let in, as what, and on how many devices; an address for a new password is shown once."""
    now = timezone.now()
    rows = list(User.objects.order_by("id").select_related("second_factor").prefetch_related("sessions"))
    for person in rows:
        person.devices = sum(session.expire_date > now for session in person.sessions.all())
    context = {"people": rows, "roles": Role.choices, "link": request.session.pop("new-password", None)}
    return render(request, "accounts/people.html", context)


def _back(request, act):
    """Carry out an act on a person and go back to the people; what it cannot do is said there."""
    try:
        messages.success(request, act())
    except Refused as refusal:
        messages.error(request, f"{str(refusal)[:1].upper()}{str(refusal)[1:]}.")
    return HttpResponseRedirect(reverse("accounts:people"))


class AddPerson(OnceView):
    """Let somebody new in."""

    form_class = PersonForm
    action = "add person"
    heading = "Somebody new"
    button = "Add"
    done = "Added."

    def carry_out(self, form):
        told = {k: form.cleaned_data[k] for k in ("username", "role", "password")}
        person = services.add_person(self.request.user, **told)
        note(Happening.LET_IN, self.request, about=person, words=f"new, as {person.get_role_display().lower()}")
        if not told["password"]:
            _show_link(self.request, person)
        return reverse("accounts:people")


def _show_link(request, person):
    secret = services.link_for_password(request.user, person)
    address = request.build_absolute_uri(reverse("accounts:choose-password", args=[secret]))
    request.session["new-password"] = {"name": person.username, "address": address}
    note(Happening.LINK, request, about=person, words="holds for 24 hours, opens once")


@require_POST
def toggle_person(request, pk):
    """Deactivate somebody, or let them in again."""
    person = get_object_or_404(User, pk=pk)

    def act():
        services.set_active(request.user, person, not person.is_active)
        words = "let in again" if person.is_active else "not let in any more; signed out everywhere"
        note(Happening.LET_IN, request, about=person, words=words)
        return f"{person}: {words}."

    return _back(request, act)


@require_POST
def change_role(request, pk):
    """Give somebody another role."""
    person, role = get_object_or_404(User, pk=pk), request.POST.get("role", "")

    def act():
        if role not in Role.values:
            raise Refused(f"the role must be one of: {', '.join(Role.values)}")
        was = person.get_role_display().lower()
        services.change_role(request.user, person, role)
        words = f"{person.get_role_display().lower()}, was {was}"
        note(Happening.ROLE, request, about=person, words=words)
        return f"{person}: {words}."

    return _back(request, act)


@require_POST
def new_password(request, pk):
    """Make a private address by which somebody chooses a new password."""
    person = get_object_or_404(User, pk=pk)

    def act():
        _show_link(request, person)
        return f"{person}: an address is made. Copy it now; it is shown this once."

    return _back(request, act)


@require_POST
def drop_factor(request, pk):
    """Take away the second factor of somebody who lost it."""
    person = get_object_or_404(User, pk=pk)

    def act():
        services.drop_factor(request.user, person)
        note(Happening.FACTOR, request, about=person, words="taken away by an owner")
        return f"{person}: signs in by password alone now."

    return _back(request, act)


@require_POST
def sign_out_person(request, pk):
    """Sign somebody out on every device, oneself on every other."""
    person = get_object_or_404(User, pk=pk)

    def act():
        keep = request.session.session_key if person.pk == request.user.pk else ""
        count = services.sign_out(person, keep)
        note(Happening.SIGNED_OUT, request, about=person, words=f"everywhere ({count}), by an owner")
        return f"{person}: signed out on {count} device{'' if count == 1 else 's'}."

    return _back(request, act)


def _events(request):
    rows = SecurityEvent.objects.select_related("who", "about")
    kind = request.GET.get("kind", "")
    return (rows.filter(kind=kind) if kind in Happening.values else rows), kind


def log(request):
    """The security log, the newest first."""
    rows, kind = _events(request)
    before = asked.an_id(request.GET, "before")
    if before:
        rows = rows.filter(pk__lt=before)
    lines = list(rows[: SHOWN + 1])
    more = lines[SHOWN - 1].pk if len(lines) > SHOWN else None
    context = {"lines": lines[:SHOWN], "kinds": Happening.choices, "kind": kind, "more": more}
    return render(request, "accounts/log.html", context)


def log_csv(request):
    """The whole security log, to keep."""
    rows, _ = _events(request)
    found = (
        (e.recorded.isoformat(), e.get_kind_display(), e.who or e.name, e.about or "", e.address, e.words)
        for e in rows.iterator()
    )
    return table("security-log", ["when (UTC)", "what", "who", "about", "from", "more"], found)
