"""Practice: choose a piece, act, see what follows, try again. Nothing here is logged."""

from django.http import HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST

from emplastra.core.air.dewpoint import rh_pct
from emplastra.core.practice.debrief import debrief
from emplastra.core.practice.scenario import scenarios, sheets
from emplastra.core.practice.shows import SEEN
from emplastra.core.practice.world import GRITS, MIXED, USUAL_MM, WAITS, WET, moment, ready_ml
from emplastra.core.rules.face import COATS
from emplastra.core.surface.steps import STEPS
from emplastra.core.words import lasting
from emplastra.shared.services import Refused

from . import services
from .drawn import picture_of
from .models import Run

FIELDS = ("face", "step", "wet", "gun", "grit", "product", "how", "to", "kind")
"""What an act may tell in words."""


def home(request):
    """Scenarios and their pieces; practices that were begun."""
    runs = [(run, scenarios().get(run.scenario)) for run in Run.objects.filter(user=request.user)[:12]]
    told = [(run, found, found.piece(run.piece)) for run, found in runs if _known(run, found)]
    return render(request, "practice/home.html", {"scenarios": scenarios().values(), "runs": told})


def _known(run, found):
    return found is not None and run.piece in {piece.key for piece in found.pieces}


@require_POST
def start(request):
    """Begin a practice."""
    scenario, _, piece = request.POST.get("piece", "").partition("/")
    try:
        run = services.start(request.user, scenario, piece)
    except Refused as refusal:
        context = {"scenarios": scenarios().values(), "runs": (), "refused": refusal}
        return render(request, "practice/home.html", context, status=422)
    return HttpResponseRedirect(reverse("practice:run", args=[run.pk]))


@require_http_methods(["GET", "POST"])
def run(request, pk):
    """A practice as it stands; posted, one more act."""
    found = get_object_or_404(Run, pk=pk)
    if not _known(found, scenarios().get(found.scenario)):
        return render(
            request, "practice/home.html", {"scenarios": scenarios().values(), "runs": (), "gone": found}, status=404
        )
    if request.method != "POST":
        return _page(request, found)
    version = request.POST.get("version", "")
    try:
        services.act(found, _told(request.POST), int(version) if version.isascii() and version.isdecimal() else -1)
    except Refused as refusal:
        return _page(request, found, 422, refused=refusal, typed=request.POST)
    except services.Meanwhile:
        found.refresh_from_db()
        return _page(request, found, 409, meanwhile=True)
    return HttpResponseRedirect(reverse("practice:run", args=[pk]))


def _told(posted):
    """An act as it was sent."""
    told = {"do": posted.get("do", "")[:20]} | {key: posted[key][:60] for key in FIELDS if posted.get(key)}
    for key in ("ml", "min"):
        if posted.get(key):
            told[key] = _number(posted[key])
    return told | ({"guard": True} if posted.get("guard") else {})


def _number(text):
    try:
        return float(text.replace(",", "."))
    except ValueError:
        return text[:20]


def _page(request, found, status=200, **more):
    """The page of a practice."""
    world = services.world_of(found)
    last = world.shown[-2:] if not world.ended else []
    air = next(iter(world.faces.values())).where.at(world.t_s)
    context = {
        "run": found,
        "world": world,
        "scenario": world.scenario,
        "piece": world.piece,
        "now_here": moment(world, world.t_s),
        "day": (moment(world, world.t_s).date() - moment(world, world.start_s).date()).days + 1,
        "days": (moment(world, world.end_s).date() - moment(world, world.start_s).date()).days + 1,
        "left": lasting((world.end_s - world.t_s) / 60),
        "air": air,
        "rh": rh_pct(air.air_c, air.dew_c),
        "picture": picture_of(world),
        "news": [_news(world, f) for f in sorted(last, key=lambda f: f.shows_s)],
        "faces": [_choices(world, face) for face in world.faces.values()],
        "pots": [(pot, moment(world, pot.mixed_s)) for pot in world.pots if pot.left_ml > 0.5],
        "mixes": _mixes(world),
        "waits": [(n, lasting(n)) for n in WAITS],
        "options": {"wet": list(WET), "gun": list(USUAL_MM), "how": list(MIXED), "grit": list(GRITS)},
        "told": debrief(world),
        "lines": [_line(world, line) for line in debrief(world).lines],
    }
    return render(request, "practice/run.html", context | more, status=status)


def _news(world, f):
    """Something that shows: when, the rule, the number, and where it could have been seen before."""
    decided = moment(world, f.decided_s)
    left = f.shows_s - f.decided_s
    return {
        "at": moment(world, f.shows_s),
        "follows": f,
        "decided": decided,
        "face": world.faces[f.face].given.name if f.face in world.faces else "",
        "seen": SEEN.get(f.aspect, ""),
        "warned": moment(world, f.warned_s) if f.warned_s else None,
        "unseen": lasting(left / 60) if left >= 60 else "",
    }


def _choices(world, face):
    """A face with what may be done on it: the next steps of its plan first."""
    plan = face.plan(world.t_s)
    undone = [state for state in plan.states if not state.done and not state.step.left_out]
    rows = []
    for state in undone:
        step = state.step
        coats = f", coat {state.coats_done + 1} of {step.coats}" if step.kind in COATS and step.coats > 1 else ""
        grit, of = f" {step.grit}" if step.grit else "", f" with {step.product}" if step.product else ""
        name = f"{STEPS[step.kind].name}{grit}{of}{coats}"
        sprayed = step.method not in {"brush", "roller"} and step.kind in COATS
        rows.append({"step": step, "name": name, "coat": step.kind in COATS, "sprayed": sprayed})
    return {"face": face, "rows": rows[:2], "later": rows[2:], "shut": face.closed_s is not None}


def _mixes(world):
    """[(product, mL that its next coats take)] of what may be mixed."""
    found = {}
    for face in world.faces.values():
        for state in face.plan(world.t_s).states:
            step = state.step
            sheet = sheets().get(step.product)
            if state.done or sheet is None or sheet.form != "mixed":
                continue
            rest = step.coats - state.coats_done
            share = 0.15 if step.on else 1.0
            found[step.product] = found.get(step.product, 0.0) + rest * share * ready_ml(
                sheet, step, face.given.area_m2
            )
    return [(name, 5 * round(ml / 5 + 0.5)) for name, ml in found.items()]


def _line(world, line):
    """A row of the debrief."""
    worst = line.worst
    return {
        "at": moment(world, line.row.began_s),
        "row": line.row,
        "worst": worst,
        "shows": moment(world, worst.shows_s) if worst else None,
        "after": lasting((worst.shows_s - worst.decided_s) / 60)
        if worst and worst.shows_s - worst.decided_s >= 60
        else "",
        "showed": line.showed,
    }


@require_POST
def again(request, pk):
    """The same weather again, from the begin or from before one act."""
    found = get_object_or_404(Run, pk=pk)
    number = request.POST.get("before", "")
    before = int(number) if number.isascii() and number.isdecimal() and len(number) < 5 else None
    try:
        made = services.again(request.user, found, before)
    except Refused:
        return HttpResponseRedirect(reverse("practice:home"))
    return HttpResponseRedirect(reverse("practice:run", args=[made.pk]))
