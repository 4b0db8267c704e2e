"""Sign-in, first run, gloves; the workshop's settings, its people."""

from django.contrib.auth import login
from django.contrib.auth import views as auth
from django.http import HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme
from django.views import View
from django.views.decorators.http import require_POST

from emplastra.shared import standing
from emplastra.shared.services import Refused
from emplastra.shared.views import OnceView

from . import services
from .forms import FirstRunForm, PersonForm, SettingsForm, SignInForm
from .middleware import for_all_roles, for_owner, public
from .models import User


@public
class SignIn(auth.LoginView):
    form_class = SignInForm
    template_name = "accounts/sign_in.html"

    def dispatch(self, request, *args, **kwargs):
        if not User.objects.exists():
            return redirect("accounts:first-run")
        return super().dispatch(request, *args, **kwargs)

    def form_invalid(self, form):
        answer = super().form_invalid(form)
        answer.status_code = 422
        return answer


@for_all_roles
class SignOut(auth.LogoutView):
    next_page = "accounts:sign-in"


@public
class FirstRun(View):
    """The one-time code, the workshop and its first owner."""

    def dispatch(self, request, *args, **kwargs):
        if User.objects.exists():
            return redirect("accounts:sign-in")
        return super().dispatch(request, *args, **kwargs)

    def get(self, request):
        return render(request, "accounts/first_run.html", {"form": FirstRunForm()})

    def post(self, request):
        form = FirstRunForm(request.POST)
        if not form.is_valid():
            return render(request, "accounts/first_run.html", {"form": form}, status=422)
        fields = {k: v for k, v in form.cleaned_data.items() if k != "code"}
        try:
            login(request, services.set_up(**fields))
        except Refused:
            return redirect("accounts:sign-in")
        return redirect("bench:home")


@public
def health(request):
    """200 as long as the process answers, the database can be read and the record is protected; 503 says why not."""
    why = standing.fault()
    if why:
        return JsonResponse({"ok": False, "why": why}, status=503)
    return JsonResponse({"ok": True, "set_up": User.objects.exists()})


@for_all_roles
@require_POST
def gloves(request):
    """Switch gloves mode on or off, on this device."""
    back = request.POST.get("next", "/")
    if not url_has_allowed_host_and_scheme(back, {request.get_host()}):
        back = "/"
    answer = HttpResponseRedirect(back)
    answer.set_cookie("gloves", "0" if request.COOKIES.get("gloves") == "1" else "1", max_age=31536000, samesite="Lax")
    return answer


def csrf_failure(request, reason=""):
    """The sign-in changed under an open page: say so; the draft has kept what was typed."""
    if request.htmx:
        return render(request, "accounts/strip.html", {"next": request.htmx.current_url_abs_path or "/"}, status=401)
    back = request.META.get("HTTP_REFERER", "/")
    return render(request, "accounts/changed.html", {"back": back}, status=403)


@for_owner
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
        "guns",
    )

    def initial(self):
        return {name: getattr(self.request.workshop, name) for name in self.fields}

    def carry_out(self, form):
        services.change_workshop(self.request.user, **{name: form.cleaned_data[name] for name in self.fields})
        return reverse("accounts:settings")


@for_owner
def people(request):
    """Who is let in."""
    return render(request, "accounts/people.html", {"people": User.objects.order_by("id")})


@for_owner
class AddPerson(OnceView):
    """Let somebody new in."""

    form_class = PersonForm
    action = "add person"
    heading = "Somebody new"
    button = "Add"
    done = "Added."

    def carry_out(self, form):
        services.add_person(self.request.user, **{k: form.cleaned_data[k] for k in ("username", "role", "password")})
        return reverse("accounts:people")


@for_owner
@require_POST
def toggle_person(request, pk):
    """Deactivate somebody, or let them in again."""
    person = get_object_or_404(User, pk=pk)
    try:
        services.set_active(request.user, person, not person.is_active)
    except Refused as refusal:
        return HttpResponse(str(refusal), status=422, content_type="text/plain; charset=utf-8")
    return HttpResponseRedirect(reverse("accounts:people"))
