"""What would be if one thing of a plan, or of all plans of a job, were another: side by side, nothing saved."""

from dataclasses import dataclass, field

from emplastra.core.buying.bill import Bill, sum_of
from emplastra.core.surface.lasts import waits_of
from emplastra.core.surface.names import StepKind
from emplastra.core.surface.plan import read_steps
from emplastra.core.surface.steps import STEPS
from emplastra.core.surface.swap import Swap, changed
from emplastra.jobs.services import proposed

from .needs import Takings, temp_for
from .ruling import Rulings
from .selectors import SPRAY_MIN_PER_M2

WORDS = ("stops", "warns", "advises")


@dataclass
class Outcome:
    """What a plan comes to: verdicts by word, what is said first, wait and work [min], its bill, films [µm].

    steps: of a zone, as it would be; touched: faces that it changes; shown: (zone, verdict, whether the plan does not
    say it); gone: how much of what the plan says is not said of it.
    """

    name: str
    counts: dict = field(default_factory=lambda: dict.fromkeys(WORDS, 0))
    said: list = field(default_factory=list)
    wait_min: float = 0.0
    work_min: float = 0.0
    waits_at_least: bool = False
    bill: Bill = field(default_factory=Bill)
    film_um: float = 0.0
    limit_um: float | None = None
    steps: tuple = ()
    touched: list = field(default_factory=list)
    shown: list = field(default_factory=list)
    gone: int = 0

    def beside(self, base):
        """This with what is said that the plan does not say first, and how much of what it says is gone."""
        was, now = ({(zone.pk, v.rule, v.sentence) for zone, v in each.said} for each in (base, self))
        shown = [(zone, v, (zone.pk, v.rule, v.sentence) not in was) for zone, v in self.said]
        self.shown = sorted(shown, key=lambda each: (not each[2], WORDS.index(each[1].severity)))
        self.gone = len(was - now)
        return self

    @property
    def word(self):
        """The gravest word."""
        return next((word for word in WORDS if self.counts[word]), "clean")


class Trials:
    """Plans of some zones (ZoneStates) tried with changes; what does not change is judged once."""

    def __init__(self, book, states, versions, sheets):
        """versions: {id: SystemVersion} of systems that a change may name; sheets: by name, of all that it may name."""
        self.book, self.states, self.versions, self.sheets = book, states, versions, sheets
        self.facts, self._as_is, self._said = book.facts, {}, {}
        self.takings = Takings(book.facts, sheets)

    def outcome(self, name, change):
        """What a change comes to over all zones (Outcome)."""
        rulings = self._rulings(change)
        found, bills = Outcome(name), []
        for state in self.states:
            steps = self.steps_of(state, change)
            same = steps == state.facts.steps and change.what != Swap.SCHOOL
            one = self._planned(state) if same else self._of(state, steps, rulings, self._system(state, change))
            if not same:
                found.touched.append(state)
            found.steps = steps
            self._join(found, one)
            bills.append(one.bill)
        found.bill = sum_of(bills) if len(bills) != 1 else bills[0]
        return found

    def _join(self, found, one):
        for word in WORDS:
            found.counts[word] += one.counts[word]
        found.said += one.said
        found.wait_min, found.work_min = max(found.wait_min, one.wait_min), found.work_min + one.work_min
        found.waits_at_least |= one.waits_at_least
        found.film_um, found.limit_um = max(found.film_um, one.film_um), one.limit_um

    def _rulings(self, change):
        if change.what != Swap.SCHOOL or not change.of:
            return self.book.rulings
        other = Rulings(self.facts, list(self.facts.zones))
        other.schools = {job: {**held, change.of: change.to} for job, held in self.book.rulings.schools.items()}
        return other

    def steps_of(self, state, change):
        """The steps of a zone's plan with a change."""
        steps = state.facts.steps
        if change.what == Swap.SYSTEM:
            version = self.versions.get(change.to)
            if version is None or state.facts.logged:
                return steps  # a plan that is under way is no other system's
            return read_steps(proposed(state.zone, version).steps)
        done = {s.step.id for s in state.plan.states if s.done or s.coats_done or s.share}
        return changed(steps, change, self.sheets, done)

    def _system(self, state, change):
        """The version that a change puts a zone's plan under, None where it stays under its own."""
        return self.versions.get(change.to) if change.what == Swap.SYSTEM and not state.facts.logged else None

    def _judged(self, state, steps, rulings, temp_c, system):
        """(all that is said of a zone's plan, what its coats wait); of faces that are alike, and on which nothing is
        told, it is worked out once.
        """
        key = self._alike(state, steps, rulings, system)
        if key is None:
            return self._make(state, steps, rulings, temp_c, system)
        if (key, temp_c) not in self._said:
            self._said[key, temp_c] = self._make(state, steps, rulings, temp_c, system)
        return self._said[key, temp_c]

    def _make(self, state, steps, rulings, temp_c, system):
        said = [v for _, ruled in rulings.plan(state, steps, self.sheets, system) for v in ruled.open]
        return said, waits_of(steps, self.sheets, temp_c, state.plan.coats_on)

    def _alike(self, state, steps, rulings, system):
        """What sets a face apart from others on which nothing happened, nothing is told and nothing is accepted; None
        where something is, or its colour has to match others'.
        """
        if self._is_told(state, rulings) or any(s.kind == StepKind.MID for s in steps):
            return None
        each, r = state.facts, state.facts.revision
        face = (r.substrate, r.thickness_mm, r.part, r.form, r.finish_class, r.end_state, r.profile)
        where = (each.place and each.place.pk, each.where is not None, state.zone.job_id, id(rulings))
        return face, where, self._limit(state, rulings, system), tuple(tuple(vars(s).values())[1:] for s in steps)

    def _is_told(self, state, rulings):
        """True if anything happened on a face or one beside it, or is told, accepted, or to be opened there."""
        beside = [n for n in rulings.neighbours.near(state.zone) if n.events or any(rulings.chains[n.zone.pk])]
        own = state.facts.events or state.spots or any(rulings.chains[state.zone.pk])
        return bool(own or beside or rulings.accepted[state.zone.pk] or rulings.access_of(state.zone))

    def _limit(self, state, rulings, system):
        """The most that all layers may come to [µm], None where nothing says."""
        if system is not None:
            return system.max_total_um
        plan = state.facts.build_up
        return rulings.limits.get(plan.system_id) if plan else None

    def _planned(self, state):
        pk = state.zone.pk
        if pk not in self._as_is:
            self._as_is[pk] = self._of(state, state.facts.steps, self.book.rulings)
        return self._as_is[pk]

    def _of(self, state, steps, rulings, system=None):
        """What one zone's plan comes to with these steps."""
        one, each = Outcome(state.zone.name, steps=steps), state.facts
        temp_c = temp_for(each, self.facts, state.surface.t_s)
        said, waits = self._judged(state, steps, rulings, temp_c, system)
        for verdict in said:
            one.counts[verdict.severity] += 1
            one.said.append((state.zone, verdict))
        done = state.plan.coats_on
        one.wait_min, one.waits_at_least = waits.minutes, bool(waits.missing)
        left = [s for s in steps if STEPS[s.kind].leaves_film and not s.left_out]
        coats = sum(max(0, s.coats - done.get(s.id, 0)) for s in left)
        one.work_min = SPRAY_MIN_PER_M2 * coats * (each.area_m2 if each.revision else 0.0)
        one.bill = self.takings.alike(each, steps).bill(each.asked)
        one.film_um = sum(s.left_um or 0.0 for s in left)
        one.limit_um = self._limit(state, rulings, system)
        return one
