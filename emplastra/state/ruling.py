"""The one judge for rows: what is known of zones, their faces, and what is said of each act on them.

Bench, the band, the plan, the pot, the log and the record ask here. What holds for many zones (findings, schools, what
was accepted and what is quiet) is loaded once for all of them.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

from emplastra.core.metal.access import come_before, logged
from emplastra.core.metal.known import Metal
from emplastra.core.rules.face import Act, ColourFact, Face, FindingFact, SpotFact
from emplastra.core.rules.fixes import Plan, changed, holds
from emplastra.core.rules.judge import Ruling, judge
from emplastra.core.rules.registry import Verdict, gravest_first
from emplastra.core.rules.rehearsal import rehearse
from emplastra.core.surface import events
from emplastra.core.surface.bare import drying_of
from emplastra.core.surface.clocks import Setting, with_clocks
from emplastra.core.surface.coats import most_mids
from emplastra.core.surface.fit import dewed
from emplastra.core.surface.fold import Toward, build
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.patches import FULL
from emplastra.core.surface.plan import mids_of, progress_of, read_steps
from emplastra.core.surface.steps import STEPS
from emplastra.jobs.colours import colours_of
from emplastra.jobs.judging import acceptance_of, accepted_in, is_quiet, quiet_in, schools_of
from emplastra.jobs.models import Acceptance, BuildUpVersion, Zone, ZoneRevision
from emplastra.logbook.kinds.checked import Checked
from emplastra.logbook.models import Correction, Entry
from emplastra.materials.models import SystemVersion

from .acts import next_act
from .beside import HOLDS, Neighbours
from .faces import happened
from .history import blushed_of, joined, masked, nights_of
from .known import access_plans, coverage_in, standing, told_of


@dataclass
class Accepted:
    """A verdict that is accepted: why, by whom, when."""

    verdict: Verdict
    acceptance: Acceptance


@dataclass
class Ruled:
    """An act with what is said of it, as pages show it: open verdicts; accepted ones; how many are quiet.

    full: the ruling before anything was accepted; mender: gives the plan that a verdict's fix makes.
    """

    ruling: Ruling
    full: Ruling
    accepted: list = field(default_factory=list)
    quiet: list = field(default_factory=list)
    mender: Callable | None = None
    face: Face | None = None
    """The face that it was judged on, where somebody asks for it."""

    @property
    def act(self) -> Act:
        """What is judged."""
        return self.ruling.act

    def joined(self, other):
        """This with what is said of another coat of the same step."""
        verdicts = tuple(gravest_first([*self.open, *other.open]))
        own = {id(v) for v in self.open}
        return Ruled(
            replace(self.ruling, verdicts=verdicts),
            self.full,
            [*self.accepted, *other.accepted],
            [*self.quiet, *other.quiet],
            lambda v: (self if id(v) in own else other).mended(v),
        )

    def mended(self, verdict):
        """The steps of the plan that a verdict's fix makes, once they hold judged again; None where they do not."""
        return self.mender(verdict) if self.mender else None

    def mends(self, verdict):
        """True if a verdict's fix for the plan holds judged again."""
        return self.mended(verdict) is not None

    @property
    def open(self):
        """Verdicts that stand, the gravest first."""
        return self.ruling.verdicts

    @property
    def word(self):
        """The gravest word."""
        return self.ruling.word

    @property
    def stop(self):
        """What stops it, but for what a clock of the row says by itself; None if nothing does."""
        return next((v for v in self.open if v.severity == "stops" and not v.by_clock), None)

    @property
    def spoken(self):
        """The first thing that stops or warns, but for what a clock of the row says by itself."""
        return [v for v in self._grave if not v.by_clock][:1]

    @property
    def more(self):
        """How many more things stop or warn."""
        return max(0, sum(not v.by_clock for v in self._grave) - 1)

    @property
    def _grave(self):
        return [v for v in self.open if v.severity in {"stops", "warns"}]

    @property
    def teeth(self):
        """[(aspect, its word)] of what was looked at, in order: the ruling as a comb."""
        return [(aspect.value, self.ruling.word_of(aspect)) for aspect in self.ruling.concerned]

    @property
    def missing(self):
        """[(aspect, what is missing)] of what is not judged."""
        return [(aspect.value, why) for aspect, why in self.ruling.missing.items()]

    @property
    def clean(self):
        """Names of the aspects that have nothing against it."""
        return [aspect.value for aspect in self.ruling.clean]


class Rulings:
    """What is said of acts on some zones (their ZoneFacts by id, in `facts`)."""

    def __init__(self, facts, ids, off=frozenset()):
        self.facts, self.off = facts, off
        self.each = {pk: facts.zones[pk] for pk in ids}
        zones = [each.zone for each in self.each.values()]
        self._zones, self._said, self._waiting = zones, {}, {}
        self.chains, self._newest_plan = told_of(zones)

    @cached_property
    def jobs(self):
        """The jobs of these zones by id."""
        return {zone.job_id: zone.job for zone in self._zones}

    @cached_property
    def schools(self):
        """{job id: {question: answer}}."""
        return schools_of(self.jobs.values())

    @cached_property
    def quiet(self):
        """{job id: {rule: Quiet}}."""
        return quiet_in(self.jobs.values())

    @cached_property
    def limits(self):
        """{id of a system's version: the most that it allows [µm]}."""
        ids = {each.build_up.system_id for each in self.each.values() if each.build_up} - {None}
        return dict(SystemVersion.objects.filter(pk__in=ids).values_list("pk", "max_total_um"))

    @cached_property
    def lines(self):
        """{zone id: ids of it and of the zones it was made from}: what was accepted there holds here."""
        origin = {zone.pk: zone.origin_id for zone in self._zones if zone.origin_id}
        asked = set(origin.values()) - set(origin)
        while asked:
            older = dict(Zone.objects.filter(pk__in=asked, origin__isnull=False).values_list("pk", "origin_id"))
            origin |= older
            asked = set(older.values()) - set(origin)
        found = {}
        for zone in self._zones:
            line = [zone.pk]
            while line[-1] in origin:
                line.append(origin[line[-1]])
            found[zone.pk] = line
        return found

    @cached_property
    def matches(self):
        """{zone id: {face: its mid-coats as planned}} of what must match it: its colour group, its face, its spots."""
        measures = ZoneRevision.objects.filter(zone__job__in=self.jobs, zone__removed=False, zone__retired="")
        rows = measures.order_by("id").values_list(
            "zone_id", "zone__name", "zone__parent_id", "zone__job_id", "colour_group"
        )
        zones = {pk: told for pk, *told in rows}
        plans = BuildUpVersion.objects.filter(zone__in=zones).order_by("number").values_list("zone_id", "steps")
        mids = {pk: _mids(steps) for pk, steps in plans}
        groups = {}
        for pk, (name, parent, job, group) in zones.items():
            if mids.get(pk) is not None:
                mids[pk] = max(mids[pk], self._mids_on(pk))
                group = zones[parent][3] if parent in zones else group
                groups.setdefault((job, group) if group else parent or pk, []).append((pk, name, mids[pk]))
        return {pk: {n: count for _, n, count in rows} for rows in groups.values() for pk, _, _ in rows}

    def _mids_on(self, pk):
        """Mid-coats that lie on a zone over its last ground coat, 0 where it is not of these zones."""
        each = self.each.get(pk)
        return most_mids(each.built(self.facts.now.timestamp()).patches) if each else 0

    @cached_property
    def colours(self):
        """{job id: {colour group: the Colour that holds}}."""
        return colours_of(self.jobs)

    def colour_of(self, zone):
        """The core's ColourFact of the group that a zone is in, itself or by its face."""
        face = self.each.get(zone.parent_id) or self.each[zone.pk]
        group = face.revision.colour_group if face.revision else ""
        told = self.colours.get(zone.job_id, {}).get(group) if group else None
        if told is None:
            return ColourFact()
        t_s = self.facts.now.timestamp()
        mates = [x for x in self.each.values() if x.zone.job_id == zone.job_id and x.revision is not None]
        on = {x.zone.name: most_mids(x.built(t_s).patches) for x in mates if x.revision.colour_group == group}
        return ColourFact(told.mids, on, told.undertone)

    @cached_property
    def access_plans(self):
        """{job id: acts of its plan of access}."""
        return access_plans(self._newest_plan)

    def access_of(self, zone):
        """{id of a step: acts of access that come before it on a zone and are neither told nor logged as done}."""
        acts = self.access_plans.get(zone.job_id, ())
        if not any(act.before for act in acts):
            return {}
        return self._access(zone.job_id).get(str(zone.pk), {})

    @cached_property
    def neighbours(self):
        """What lies beside each of these zones."""
        return Neighbours(self.each, self.chains, lambda: self.access_plans)

    def _access(self, job):
        """{face: {id of a step: acts}} of a job, as its log has it."""
        if job not in self._waiting:
            zones = [each for each in self.facts.zones.values() if each.zone.job_id == job]
            acts = logged(self.access_plans[job], happened(zones, self.facts.now.timestamp()))
            self._waiting[job] = come_before(acts)
        return self._waiting[job]

    @cached_property
    def accepted(self):
        """{zone id: Acceptances of it and of what it was made from}."""
        rows = accepted_in({pk for line in self.lines.values() for pk in line})
        return {pk: [row for one in line for row in rows.get(one, ())] for pk, line in self.lines.items()}

    @cached_property
    def firsts(self):
        """{id of a correcting entry: id of the first of its chain}."""
        rows = Correction.objects.filter(by__zones__in=list(self.each)).values_list("by_id", "replaces_id")
        back = dict(rows)

        def first(pk):
            while pk in back:
                pk = back[pk]
            return pk

        return {pk: first(pk) for pk in back}

    @cached_property
    def air_line(self):
        """Whether the air line was found dry and clean today, None where nobody looked: the newest check of all."""
        midnight = self.facts.now.astimezone(self.facts.workshop.zone).replace(
            hour=0, minute=0, second=0, microsecond=0
        )
        looked = Checked.objects.filter(
            check_kind="air-line", entry__in=Entry.objects.known_at(), entry__ended__gte=midnight
        )
        return looked.order_by("-entry__ended").values_list("passed", flat=True).first()

    def first_of(self, entry):
        """What an act that is in no plan is called: the first entry of its chain of corrections."""
        return f"entry {self.firsts.get(entry, entry)}"

    def rule(self, zone, act, face):
        """[Ruled] of an act on a face of a zone: what is accepted and what is quiet taken out of it."""
        full = judge(act, face, self.schools[zone.job_id], self.off)
        return self.sorted(zone, full)

    def sorted(self, zone, full):
        """A ruling with what is accepted of it, and what is quiet, set apart."""
        accepted, quiet = [], []
        rows, silent = self.accepted[zone.pk], self.quiet[zone.job_id]
        for verdict in full.verdicts:
            row = acceptance_of(rows, verdict) if rows else None
            if row is not None:
                accepted.append(Accepted(verdict, row))
            elif is_quiet(silent, verdict):
                quiet.append(verdict)
        gone = {id(a.verdict) for a in accepted} | {id(v) for v in quiet}
        return Ruled(_but(full, gone), full, accepted, quiet)

    def now(self, state, coat=False):
        """What is said of the next act on a zone (its ZoneState), or of its next coat; None where there is none, or
        while it is away.
        """
        act = next_act(state, coat) if state.surface.away_s is None and state.facts.revision is not None else None
        if act is None:
            return None
        face = self.face_now(state, act)
        ruled = self.rule(state.zone, act, face)
        ruled.mender, ruled.face = lambda verdict: self.mended(state, act, face, verdict), face
        return ruled

    def mended(self, state, act, face, verdict):
        """The steps that a fix makes of a zone's plan (its ZoneState), None if it does nothing or does not hold."""
        steps = tuple(s.step for s in state.plan.states)
        at = next((i for i, step in enumerate(steps) if step.id == act.step), None)
        if at is None:
            return None
        done = state.plan.done_ids
        made = changed(verdict, Plan(steps, at, done, act, face, state.all.sheets))
        if made is None:
            return None
        was, now = self._spoken(state, None), self._spoken(state, made)
        return made if holds(verdict, act.step, was, now) else None

    def _spoken(self, state, steps):
        """[(id of a step, verdict)] of a zone's plan, or of one made of it."""
        key = (state.zone.pk, steps)
        if key not in self._said:
            rehearsed = self._rehearsed(state, steps)
            self._said[key] = [(act.step, v) for _, act, _, full in rehearsed for v in full.verdicts]
        return self._said[key]

    def _rehearsed(self, state, steps, sheets=None, system=None):
        """(StepState, act, the face that it meets, all that is said of it) of each planned act still to come."""
        plan = state.plan if steps is None else progress_of(steps, state.facts.events, state.surface.t_s)
        # Its spots have plans of their own, and are done when a coat joins them.
        waiting = {step: tuple(a.kind for a in acts) for step, acts in self.access_of(state.zone).items()}
        stripes = {s.step.id: state.facts.of_face(s.step) for s in plan.states if s.step.kind == StepKind.STRIPE}
        told = {"strip_due": _strip_due(plan), "access": waiting, "stripes": stripes}
        face = replace(self.face_now(state, None), spots=(), **told)
        if system is not None:
            face = replace(face, most_um=system.max_total_um)
        typed = mids_of([s.step for s in plan.states])
        face = replace(face, mids=lambda: self.matches.get(state.zone.pk, {}) | {face.name: typed or 0})
        for at, act, met in rehearse(face, plan, sheets or state.all.sheets, ""):
            yield at, act, met, judge(act, met, self.schools[state.zone.job_id], self.off)

    def unsound(self, state):
        """Why no coating verdict is given on a zone under load, "" where there is no such reason."""
        if state.facts.revision is None:
            return ""
        act = Act(StepKind.CLOSE)
        found = judge(act, self.face_now(state, act), self.schools[state.zone.job_id], self.off).verdicts
        return next((v.sentence for v in found if v.rule == "inspection"), "")

    def plan(self, state, steps=None, sheets=None, system=None):
        """[(StepState, Ruled)] of each planned act still to come, against the face that those before it leave.

        steps: those of a plan as typed, instead of the saved one's; sheets: by product name, where they name others;
        system: the version whose most they are held against, instead of that of the saved plan.
        """
        if state.facts.revision is None:
            return []
        if steps is not None and list(steps) == [s.step for s in state.plan.states]:
            steps = None
        said, found = set(), []
        for at, act, met, full in self._rehearsed(state, steps, sheets, system):
            again = {id(v) for v in full.verdicts if (v.rule, v.sentence) in said}  # said of an act before it
            said |= {(v.rule, v.sentence) for v in full.verdicts}
            ruled = self.sorted(state.zone, _but(full, again))
            if steps is None:
                ruled.mender = partial(self.mended, state, act, met)
            found.append((at, ruled))
        return found

    def face_now(self, state, act):
        """The face of a zone (its ZoneState) now, toward an act."""
        each = state.facts
        spots = tuple(
            SpotFact(s.zone.name, min(1.0, s.facts.area_m2 / each.area_m2), s.surface)
            for s in state.spots
            if s.facts.revision is not None and each.area_m2 and not joined(state, s)
        )
        told = standing(each, *self.chains[each.zone.pk])
        return self.face(
            each, state.surface.t_s, each.built(state.surface.t_s), act, told, spots, _strip_due(state.plan)
        )

    def face_then(self, each, act, entry=None):
        """The face of a zone (ZoneFacts) as it was when an act began; entry: the act's own, which is left out."""
        began_s = act.began_s
        before = [e for e in each.events if e.ended_s <= began_s and (entry is None or e.entry != entry)]
        told = standing(each, *self.chains[each.zone.pk], began_s)
        return self.face(each, began_s, build(before, began_s), act, told, (), False)

    def face(self, each, t_s, surface, act, told, spots, strip_due):
        """A face of a zone (ZoneFacts) at a moment [epoch s]: what lies on it, what was told of it, its clocks."""
        revision, stated = each.revision, _stated(told)
        bared = sum(e.share for e in each.events if isinstance(e, events.Bared) and e.ended_s <= t_s)
        return Face(
            t_s,
            name=each.zone.name,
            substrate=revision.substrate,
            thickness_mm=revision.thickness_mm,
            part=revision.part,
            form=revision.form,
            finish=revision.finish_class,
            end_state=revision.end_state,
            surface=surface,
            spots=spots,
            told=stated,
            findings=tuple(f for f in stated.values() if f.status in HOLDS and f.waits != "cause"),
            stripped=bared >= FULL,
            strip_due=strip_due,
            most_um=self.limits.get(each.build_up.system_id) if each.build_up else None,
            unseen=coverage_in(told, 1.0).unseen_m2,
            outdoors=self.facts.is_out(each.place),
            has_air=each.where is not None,
            colour=lambda: self.colour_of(each.zone),
            mids=lambda: self.matches.get(each.zone.pk, {}),
            masked=masked(each, t_s),
            pending=lambda step: tuple(act.name for act in self.access_of(each.zone).get(step, ())),
            beside=lambda: self.neighbours.beside(each.zone, t_s),
            air_line=lambda: self.air_line,
            **(self._by_air(each, act) if each.where is not None else {}),
        )

    def _by_air(self, each, act):
        """What a face of a zone (ZoneFacts) asks of its air."""
        return {
            "clocks": self._clocks(each, act) if act is not None else None,
            "dewed": lambda a, b: dewed(each.where, each.tau_s, a, b),
            "blushed": lambda layer: blushed_of(each, self.facts, layer),
            "nights": lambda a, b: nights_of(each, self.facts, a, b),
        }

    def _clocks(self, each, act):
        """What gives a surface of a zone its clocks toward an act, or toward the coat that the act is for."""
        led = act.leads_to or act
        toward = Toward(led.product, led.product_kind, STEPS[act.kind].act, led.step, led.coat - 1)
        setting = Setting(
            each.revision.substrate,
            each.where,
            toward,
            drying=drying_of(each.revision.part),
            salted=each.salted,
            prompt_s=self.facts.workshop.wet_prompt_min * 60,
        )
        return lambda surface: with_clocks(surface, setting)


def _but(ruling, gone):
    """A ruling without some of its verdicts, by their identity."""
    return ruling.without(lambda v: id(v) in gone) if gone else ruling


def _mids(steps):
    """Mid-coats of a plan as it is stored, None where it has no colour under clear or cannot be read."""
    try:
        return mids_of(read_steps(steps))
    except ValueError:
        return None


def _strip_due(plan):
    """True if a planned strip is still to be done."""
    return any(s.step.kind == StepKind.STRIP and not s.done for s in plan.states)


def _stated(told):
    """{(topic, mark): FindingFact} of what is told of a zone."""
    return {
        key: FindingFact(*key, answer.choice, answer.values, answer.sentence, answer.text, *standing)
        for key, (answer, *standing) in told.items()
    }


def metal_of(state, told):
    """The core's value of a zone's metal, for ways to bare it and the hours that they take."""
    revision, step = state.facts.revision, state.next_step
    kinds = state.all.kinds
    products = [kinds.get(s.product, "") for s in state.facts.steps if STEPS[s.kind].leaves_film and s.product]
    bared = sum(e.share for e in state.facts.events if isinstance(e, events.Bared) and e.ended_s <= state.surface.t_s)
    measures = {}
    if revision:
        measures = {
            "substrate": revision.substrate,
            "thickness_mm": revision.thickness_mm,
            "part": revision.part,
            "form": revision.form,
            "finish": revision.finish_class,
            "end_state": revision.end_state,
        }
    return Metal(
        name=state.zone.name,
        answers={key: each.answer for key, each in told.items()},
        stripped=bared >= FULL,
        next_step=step.kind if step else "",
        first_coat=products[0] if products else "",
        boxed=bool(revision) and revision.part in {"box", "tank"},
        unseen_share=coverage_in(told, 1.0).unseen_m2,
        **measures,
    )
