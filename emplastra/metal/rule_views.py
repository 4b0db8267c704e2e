"""Rules: what each says of open work, schools, acceptance, fixes, and the strip plan of a zone."""

from dataclasses import asdict
from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from emplastra.core.metal import strip as ways
from emplastra.core.product.abrasives import GRADES
from emplastra.core.rules import stack as stack_rules
from emplastra.core.rules import strip
from emplastra.core.rules.fixes import NEW
from emplastra.core.rules.registry import COMMON, REGISTRY, SCHOOLS, SEVERITIES, Aspect
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.steps import DEFER, RAISED
from emplastra.jobs import estimates
from emplastra.jobs import judging as services
from emplastra.jobs import services as jobs
from emplastra.jobs.models import Job, MapPlace, School
from emplastra.say.book import book_of
from emplastra.say.rulings import WAITS
from emplastra.shared import asked
from emplastra.shared.services import Refused
from emplastra.shared.task_views import task_or_404
from emplastra.shared.views import one_tap
from emplastra.state.known import known
from emplastra.state.ruling import metal_of
from emplastra.state.stack import stack_of
from emplastra.work.views import zone_or_404

from . import looking, school_views


def _job(values):
    """The job that is asked for, None if there is none."""
    return Job.objects.filter(pk=asked.an_id(values, "job"), removed=False).first()


def rules(request):
    """Every rule with what it says of open work, now and planned; the schools and what is quiet."""
    book, job = book_of(request), _job(request.GET)
    said, missing = {}, {}
    for state in (s for s in book.states() if job is None or s.zone.job_id == job.pk):
        for zone, ruled in _of_zone(book, state):
            _note(said, missing, zone, ruled)
    held = services.schools_of([job])[job.pk] if job else services.workshop_schools()
    own = set(School.objects.filter(job=job).values_list("question", flat=True))
    schools = [(q, words, answers.items(), held[q], q in own) for q, (words, answers) in SCHOOLS.items()]
    context = {
        "speaking": _speaking(said),
        "silent": _silent(said),
        "schools": schools,
        "job": job,
        "jobs": Job.objects.filter(removed=False, filing="open"),
        "quiet": [(REGISTRY[rule].title, row) for rule, row in services.quiet_in([job])[job.pk].items()] if job else (),
        "not_judged": sorted(missing.items(), key=lambda row: -len(row[1])),
        "common": COMMON,
        "count": sum(map(len, said.values())),
    }
    if "look" in request.GET:  # without scripts, by a button
        chosen = [(q, words, answers, request.GET.get(q, was), True) for q, words, answers, was, _ in schools]
        context |= {"schools": chosen, "looked": school_views.changes(request)}
    return render(request, "metal/rules.html", context)


def _of_zone(book, state):
    """(zone, Ruled) of what comes next on a zone and of what is planned after it."""
    if state.ruled is not None:
        yield state.zone, state.ruled
    for _, ruled in book.rulings.plan(state):
        if state.ruled is None or ruled.act.subject != state.ruled.act.subject:
            yield state.zone, ruled


def _note(said, missing, zone, ruled):
    """Enter what is said of an act under its rules, each sentence once a zone, and what is missing; what is too
    early is told by the clocks.
    """
    for verdict in (v for v in ruled.open if v.rule not in WAITS):
        rows = said.setdefault(verdict.rule, {})
        rows.setdefault((zone.pk, verdict.sentence), (zone, verdict))
    for _, why in ruled.missing:
        missing.setdefault(why, set()).add(zone)


def _speaking(said):
    """[(gravest word, aspect, rule, what it says)] of rules that speak, the gravest first, then those that say most."""
    rows = []
    for key, found in said.items():
        word = min((verdict.severity for _, verdict in found.values()), key=SEVERITIES.index)
        rows.append((word, REGISTRY[key].aspect.value, REGISTRY[key], list(found.values())))
    return sorted(rows, key=lambda row: (SEVERITIES.index(row[0]), -len(row[3]), row[2].title))


def _silent(said):
    """[(aspect, [rule])] of the others."""
    rules = sorted((r for r in REGISTRY.values() if not said.get(r.id)), key=lambda r: SEVERITIES.index(r.severity))
    found = [(aspect.value, [rule for rule in rules if rule.aspect == aspect]) for aspect in Aspect]
    return [row for row in found if row[1]]


@require_POST
def look_at_coats(request):
    """Begin to look back over the coats on open work."""
    job = _job(request.POST)
    url = reverse("metal:rules") + (f"?job={job.pk}" if job else "")

    def carry_out():
        return looking.look(request.user, job).get_absolute_url()

    told = {"job": job.pk if job else None}
    done = one_tap(request, "look at coats", told, carry_out, job or "Rules", "Looking at them.", scope="coats")
    return HttpResponseRedirect(done or url)


def coat_rules(request, pk):
    """What the rules say of coats: how far it is, then what was found."""
    task = task_or_404(request, pk, kind="coats")
    said = task.result["said"] if task.state == task.State.DONE else {}
    return render(request, "metal/coat_rules.html", {"task": task, "groups": looking.groups_of(said)})


@require_POST
def choose_school(request):
    """Answer the questions of the trade for the workshop or a job."""
    job = _job(request.POST)
    if request.POST.get("job") and job is None:
        raise Http404
    try:
        for question in SCHOOLS:
            if question in request.POST:
                services.choose_school(question, request.POST[question], job, request.user)
        messages.success(request, f"Schools of {job or 'the workshop'}: saved.")
    except Refused as refusal:
        messages.error(request, f"School: {refusal}.")
    return HttpResponseRedirect(reverse("metal:rules") + (f"?job={job.pk}" if job else ""))


def one_zone(request, pk):
    """A zone and its state."""
    zone = zone_or_404(pk)
    return zone, book_of(request, zone).state(zone)


def verdict_context(zone, state):
    """What the ruling of a zone's next act needs on a page."""
    plan = state.facts.build_up
    return {"zone": zone, "state": state, "ruled": state.ruled, "plan_number": plan.number if plan else 0}


def raised(state):
    """The caution owed where a zone is worked on from below, "" elsewhere."""
    revision = state.facts.revision
    below = revision is not None and revision.finish_class == "below"
    return RAISED if below or MapPlace.objects.filter(zone=state.zone, view="under").exists() else ""


@require_POST
def accept(request, pk):
    """Accept a verdict on what comes next or on a planned act, with a reason."""
    zone, state = one_zone(request, pk)
    told = {name: request.POST.get(name, "") for name in ("key", "subject", "reason")}

    def carry_out():
        rulings = [ruled.ruling for _, ruled in _of_zone(book_of(request), state)]
        rulings += [ruled.ruling for _, ruled in book_of(request).rulings.plan(state)]
        named = (told["key"], told["subject"])
        found = next((r for r in rulings if any((v.key, v.subject) == named for v in r.verdicts)), None)
        if found is None:
            raise Refused("its facts have changed: look again")
        services.accept(zone, request.user, found, told["key"], told["reason"])
        return _back(request, zone)

    words = "Accepted: it comes back when its facts get worse."
    done = one_tap(request, "accept", {"zone": pk, **told}, carry_out, zone, words, scope=told["key"])
    return HttpResponseRedirect(done or _back(request, zone))


def _back(request, zone):
    """The page that asked, if it was one of this zone's; else where the zone stands."""
    pages = {"now": reverse("work:now", args=[zone.pk]), "build-up": reverse("plans:build-up", args=[zone.pk])}
    return pages.get(request.POST.get("back", ""), pages["now"])


@require_POST
def quiet(request, pk):
    """Make a rule quiet for a job, or let it speak again."""
    job = get_object_or_404(Job, pk=pk, removed=False)
    told = {name: request.POST.get(name, "") for name in ("rule", "reason", "speak")}
    zone = job.zones.filter(pk=asked.an_id(request.POST, "zone"), removed=False).first()
    url = reverse("work:now", args=[zone.pk]) if zone else f"{reverse('metal:rules')}?job={job.pk}"

    def carry_out():
        services.make_quiet(job, request.user, told["rule"], told["reason"], not told["speak"])
        return url

    words = "It speaks again." if told["speak"] else "Quiet for this job: Rules lists it."
    one_tap(request, "quiet", {"job": pk, **told}, carry_out, job, words, scope=told["rule"])
    return HttpResponseRedirect(url)


@require_POST
def fix(request, pk):
    """Change the plan as a fix does, if it holds judged again."""
    zone, state = one_zone(request, pk)
    name, url = request.POST.get("fix", ""), reverse("plans:build-up", args=[pk])
    before = request.POST.get("before", "") or (state.next_step.id if state.next_step else "")

    def carry_out():
        spoken = [ruled for _, ruled in _of_zone(book_of(request), state)]
        asked_of = [(r, v) for r in spoken if r.act.step == before for v in r.open if v.fix == name]
        made = next((steps for ruled, v in asked_of if (steps := ruled.mended(v)) is not None), None)
        if made is None:
            raise Refused("there is no such fix for it now: look again")
        try:
            jobs.save_build_up(zone, request.user, _rows(made), asked.a_count(request.POST, "based_on"))
        except jobs.StalePlan as stale:
            raise Refused("somebody changed the plan meanwhile: look again") from stale
        return url

    return _done(request, zone, "fix", carry_out, f"{name}{before}", "It is in the plan now.")


def _rows(steps):
    """Steps of a plan as it is stored; new ones get their ids when they are saved."""
    rows = [asdict(step) for step in steps]
    return [{k: v for k, v in row.items() if k != "id" or not v.startswith(NEW)} for row in rows]


def _done(request, zone, action, carry_out, what, words):
    done = one_tap(request, action, {"zone": zone.pk, "what": what}, carry_out, zone, words, scope=what)
    return HttpResponseRedirect(done or reverse("metal:strip", args=[zone.pk]))


def _ranked(zone, state):
    """Ways to bare a zone, ranked."""
    schools = services.schools_of([zone.job])[zone.job_id]
    cut = 1.0 if zone.pk in estimates.cut_out(zone.job) else 0.0
    metal = metal_of(state, known([zone], {zone.pk: state.facts})[zone.pk])
    return strip.plan(metal, state.facts.area_m2, f"zone {zone.pk}", schools, cut_share=cut)


def _against(zone, state, key):
    """What is said against a way to bare a zone."""
    return next(row.against for row in _ranked(zone, state).ranked if row.key == key)


def strip_plan(request, pk):
    """Ways to bare a zone, ranked; what the rules say of its metal now."""
    zone, state = one_zone(request, pk)
    found = _ranked(zone, state)
    longest = max(r.hours.total for r in found.ranked)
    step = next((s for s in state.facts.steps if s.kind == StepKind.STRIP), None)
    first = next((r.key for r in found.ranked if not r.stopped), "")
    chosen = ((step.way or ways.way_of(step.note)) if step else "") or first
    log_it = f"{reverse('work:log', args=[pk, 'bared'])}?{urlencode({'how': chosen, 'step': step.id if step else ''})}"
    rungs = stack_rules.ladder(stack_of(state))
    deepest = max([r.over_um or 0.0 for r in rungs] + [r.scratch_um for r in rungs], default=1.0)
    context = verdict_context(zone, state) | {
        "rungs": [
            (r, round(1000 * (r.over_um or 0.0) / deepest, 1), round(1000 * r.scratch_um / deepest, 1)) for r in rungs
        ],
        "grade": GRADES.get(found.tooth.grade, ""),
        "plan": found,
        "rows": [(r, _bar(r.hours, longest)) for r in found.ranked if not r.stopped],
        "struck": _struck(found.ranked),
        "area_m2": state.facts.area_m2,
        "chosen": chosen,
        "log_url": log_it,
        "cautions": dict.fromkeys(c for r in found.ranked if not r.stopped for c in r.way.cautions),
        "raised": raised(state),
        "defer": DEFER,
    }
    return render(request, "metal/strip.html", context)


def _struck(ranked):
    """[(sentence, [ways that it stops])], in the order of the ways."""
    found = {}
    for row in (r for r in ranked if r.stopped):
        stop = next(v for v in row.against if v.severity == "stops")
        found.setdefault(stop.sentence, []).append(row)
    return list(found.items())


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
    zone, state = one_zone(request, pk)
    key, url = request.POST.get("way", ""), reverse("plans:build-up", args=[pk])

    def carry_out():
        plan = state.facts.build_up
        if key not in ways.WAYS:
            raise Refused("there is no such way to bare it")
        stop = next((v for v in _against(zone, state, key) if v.severity == "stops"), None)
        if stop is not None:
            raise Refused(f"not by this way: {stop.sentence}")
        steps = list(plan.steps) if plan else []
        if not any(s["kind"] == StepKind.STRIP for s in steps):
            steps.insert(0, {"kind": StepKind.STRIP})
        steps = [{**s, "way": key, "note": ways.note_of(key)} if s["kind"] == StepKind.STRIP else s for s in steps]
        try:
            jobs.save_build_up(zone, request.user, steps, plan.number if plan else 0, keep=state.facts.logged)
        except jobs.StalePlan as stale:
            raise Refused("somebody changed the plan meanwhile: look again") from stale
        return url

    return _done(request, zone, "way", carry_out, key, "The plan says how it is stripped.")
