"""Rules: what each says of open work, schools, acceptance, fixes, and the strip plan of a zone."""

from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.metal import strip as ways
from emplastra.core.product.abrasives import GRADES
from emplastra.core.rules import stack as stack_rules
from emplastra.core.rules import strip
from emplastra.core.rules.fixes import FIXES, steps_before
from emplastra.core.rules.registry import COMMON, REGISTRY, SCHOOLS, SEVERITIES, default_schools
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import DEFER, RAISED
from emplastra.jobs import estimates
from emplastra.jobs import judging as services
from emplastra.jobs import services as jobs
from emplastra.jobs.models import Job, MapPlace, School
from emplastra.say.book import book_of
from emplastra.shared import asked
from emplastra.shared.services import Refused
from emplastra.shared.views import one_tap
from emplastra.state.coats import judged_coats
from emplastra.state.judging import judged, stack_of
from emplastra.work.views import zone_or_404

LOOKS_AT = {
    "zone": "The metal of a zone",
    "pair": "What comes over what",
    "layer": "Layers of a plan",
    "stack": "The stack as a whole",
    "strip": "Ways to strip",
    "access": "Access",
    "ring": "Access that waits for itself",
}
COATS = {"coat": "Coats that were put on", "unknown-coat": "Coats without a data sheet"}
SHOWN = 30
MOST_ROWS = 200
"""Rows that are asked for at once."""
ON_BENCH = ("bare-overdue",)
"""Rules that say what a clock of Bench says."""


def _job(values):
    """The job that is asked for, None if there is none."""
    return Job.objects.filter(pk=asked.an_id(values, "job"), removed=False).first()


def rules(request):
    """Every rule with what it says of open work; the schools of the workshop or of a job."""
    book = book_of(request)
    job = _job(request.GET)
    states = [s for s in book.states() if job is None or s.zone.job_id == job.pk]
    said = {}
    for each in judged(states):
        for verdict in each.open:
            said.setdefault(verdict.rule, []).append((each.zone, verdict))
    held = services.schools_of([job])[job.pk] if job else _workshop_schools()
    own = set(School.objects.filter(job=job).values_list("question", flat=True))
    schools = [(q, words, answers.items(), held[q], q in own) for q, (words, answers) in SCHOOLS.items()]
    context = {
        "groups": _groups(LOOKS_AT, said),
        "schools": schools,
        "job": job,
        "jobs": Job.objects.filter(removed=False, filing="open"),
        "not_judged": said.get("not-judged", []),
        "common": COMMON,
        "count": sum(map(len, said.values())),
        "shown": SHOWN,
    }
    return render(request, "metal/rules.html", context)


def _groups(kinds, said):
    """[(name, [(rule, what it says)])]: those that speak first. kinds: {what they look at: its name}."""
    groups = []
    for key, name in kinds.items():
        rows = [(rule, said.get(rule.id, [])) for rule in REGISTRY.values() if rule.looks_at == key]
        rows.sort(key=lambda row: (-len(row[1]), SEVERITIES.index(row[0].severity), row[0].title))
        groups.append((name, rows))
    return groups


def coat_rules(request):
    """What the rules say of the coats on open work: a fragment, since it looks back over all their air."""
    job = _job(request.GET)
    zones = [s.zone for s in book_of(request).states() if job is None or s.zone.job_id == job.pk]
    accepted, said = services.accepted_in(zones), {}
    for zone, _, found in judged_coats(zones):
        for verdict in found:
            if (zone.pk, verdict.key) not in accepted:
                said.setdefault(verdict.rule, []).append((zone, verdict))
    return render(request, "metal/rule_groups.html", {"groups": _groups(COATS, said)})


def _workshop_schools():
    return default_schools() | dict(School.objects.filter(job=None).values_list("question", "answer"))


@require_POST
def choose_school(request):
    """Answer the questions of the trade for the workshop or a job."""
    job = _job(request.POST)
    if request.POST.get("job") and job is None:
        raise Http404
    try:
        for question in SCHOOLS:
            if question in request.POST:
                services.choose_school(question, request.POST[question], job)
        messages.success(request, f"Schools of {job or 'the workshop'}: saved.")
    except Refused as refusal:
        messages.error(request, f"School: {refusal}.")
    return HttpResponseRedirect(reverse("metal:rules") + (f"?job={job.pk}" if job else ""))


def one_zone(request, pk):
    """A zone, its state, and what the rules say of it."""
    zone = zone_or_404(pk)
    state = book_of(request, zone).state(zone)
    return zone, state, judged([state])[0]


def verdicts(request, pk):
    """What the rules say of a zone: a fragment for other pages."""
    zone, state, each = one_zone(request, pk)
    return render(request, "metal/verdicts.html", verdict_context(zone, state, each))


def stops(request):
    """What the rules stop on the zones of a list: a fragment that goes into their rows."""
    book = book_of(request)
    ids = [pk for pk in asked.ids(request.GET, "zones") if pk in book.open_ids][:MOST_ROWS]
    return render(
        request, "metal/stops.html", {"rows": [(each.zone, _stop(each.open)) for each in judged(book.states(ids))]}
    )


def _stop(found):
    """The first thing that stops the work, but for what Bench says by its clock; "" if nothing does."""
    return next((v.sentence for v in found if v.severity == "stops" and v.rule not in ON_BENCH), "")


def verdict_context(zone, state, each):
    """What the fragment of verdicts needs."""
    plan = state.facts.build_up
    return {
        "zone": zone,
        "judged": each,
        "fixes": {k: words for k, (words, _) in FIXES.items()},
        "plan_number": plan.number if plan else 0,
    }


def raised(each):
    """The caution owed where a zone (Judged) is worked on from below, "" elsewhere."""
    below = each.metal.finish == "below" or MapPlace.objects.filter(zone=each.zone, view="under").exists()
    return RAISED if below else ""


@require_POST
def accept(request, pk):
    """Accept a verdict with a reason."""
    zone, _, each = one_zone(request, pk)
    key, url = request.POST.get("key", ""), reverse("metal:strip", args=[pk])

    def carry_out():
        services.accept(zone, request.user, each.open, key, request.POST.get("reason", ""))
        return url

    return _done(
        request,
        zone,
        "accept",
        carry_out,
        f"{key}{request.POST.get('reason', '')}",
        "Accepted: it comes back when its facts change.",
    )


@require_POST
def fix(request, pk):
    """Put a fix's steps before the next one."""
    zone, state, _ = one_zone(request, pk)
    name, url = request.POST.get("fix", ""), reverse("work:build-up", args=[pk])

    def carry_out():
        if name not in FIXES or state.next_step is None:
            raise Refused("there is no such fix for it now")
        steps = steps_before(name, state.facts.steps, state.next_step.id)
        if not steps:
            raise Refused("keying comes next in the plan already")
        try:
            based_on = asked.a_count(request.POST, "based_on")
            jobs.insert_before(zone, request.user, state.next_step.id, steps, based_on)
        except jobs.StalePlan as stale:
            raise Refused("somebody changed the plan meanwhile: look again") from stale
        return url

    return _done(request, zone, "fix", carry_out, name, "It is in the plan now.")


def _done(request, zone, action, carry_out, what, words):
    done = one_tap(request, action, {"zone": zone.pk, "what": what}, carry_out, zone, words, scope=what)
    return HttpResponseRedirect(done or reverse("metal:strip", args=[zone.pk]))


def strip_plan(request, pk):
    """Ways to bare a zone, ranked; what the rules say of its metal now."""
    zone, state, each = one_zone(request, pk)
    schools = services.schools_of([zone.job])[zone.job_id]
    cut = 1.0 if zone.pk in estimates.cut_out(zone.job) else 0.0
    found = strip.plan(each.metal, state.facts.area_m2, f"zone {zone.pk}", schools, cut_share=cut)
    longest = max(r.hours.total for r in found.ranked)
    step = next((s for s in state.facts.steps if s.kind == StepKind.STRIP), None)
    first = next((r.key for r in found.ranked if not r.stopped), "")
    chosen = (ways.way_of(step.note) if step else "") or first
    log_it = f"{reverse('work:log', args=[pk, 'bared'])}?{urlencode({'how': chosen, 'step': step.id if step else ''})}"
    rungs = stack_rules.ladder(stack_of(state, {}))
    deepest = max([r.over_um for r in rungs] + [r.scratch_um for r in rungs], default=1.0)
    context = verdict_context(zone, state, each) | {
        "rungs": [(r, round(1000 * r.over_um / deepest, 1), round(1000 * r.scratch_um / deepest, 1)) for r in rungs],
        "grade": GRADES[found.tooth.grade],
        "plan": found,
        "rows": [(r, _bar(r.hours, longest)) for r in found.ranked],
        "area_m2": state.facts.area_m2,
        "chosen": chosen,
        "log_url": log_it,
        "cautions": dict.fromkeys(c for r in found.ranked if not r.stopped for c in r.way.cautions),
        "raised": raised(each),
        "defer": DEFER,
    }
    return render(request, "metal/strip.html", context)


PARTS = (("strip", "strip"), ("key", "key"), ("clean", "clean"), ("waste", "waste"), ("move", "moving"))


def _bar(hours, longest):
    """[(part, x, width, hours)] of a bar 1000 wide for the longest."""
    x, found = 0.0, []
    for key, name in PARTS:
        h = getattr(hours, key)
        if h > 0:
            width = 1000 * h / longest
            found.append((key, name, round(x, 1), round(width, 1), h))
            x += width
    return found


@require_POST
def take_way(request, pk):
    """Write a way of stripping into the plan's strip step; a plan without one, or none at all, begins with it."""
    zone, state, _ = one_zone(request, pk)
    key, url = request.POST.get("way", ""), reverse("work:build-up", args=[pk])

    def carry_out():
        plan = state.facts.build_up
        if key not in ways.WAYS:
            raise Refused("there is no such way to bare it")
        steps = list(plan.steps) if plan else []
        if not any(s["kind"] == StepKind.STRIP for s in steps):
            steps.insert(0, {"kind": StepKind.STRIP})
        steps = [{**s, "note": ways.note_of(key)} if s["kind"] == StepKind.STRIP else s for s in steps]
        try:
            jobs.save_build_up(zone, request.user, steps, plan.number if plan else 0, keep=state.facts.logged)
        except jobs.StalePlan as stale:
            raise Refused("somebody changed the plan meanwhile: look again") from stale
        return url

    return _done(request, zone, "way", carry_out, key, "The plan says how it is stripped.")
