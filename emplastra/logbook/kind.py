"""What a kind of entry is: its row, its event, its form, its line in the record."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.db import models

from emplastra.core.surface.plan import PlanStep
from emplastra.shared.appendonly import AppendOnly

GROUPS = {"surface": "Surface", "film": "Film", "look": "Look", "place": "Place"}
"""The groups of Log, in order."""


REDUCERS = (("", "what its sheet names"), ("other", "something else"), ("alcohol", "something with alcohol in it"))
"""What paint is thinned with."""
KINDS: dict[str, "EntryKind"] = {}
"""Every kind by its key, in order; the package `kinds` fills it."""


def choices():
    """(key, label) of every kind."""
    return [(kind.key, kind.label) for kind in KINDS.values()]


class Detail(AppendOnly):
    """Details of one kind of entry."""

    class Meta:
        abstract = True

    def __str__(self):
        return f"details of {self.pk}"


def of_entry(name):
    """The link from a kind's row to its entry; name: how the entry calls the row."""
    return models.OneToOneField("logbook.Entry", on_delete=models.PROTECT, primary_key=True, related_name=name)


@dataclass(frozen=True)
class About:
    """What a form of a kind is about: a zone, its plan, and the entry that is corrected, if one is."""

    zone: Any
    user: Any = None
    entry: Any = None
    steps: Sequence[PlanStep] = ()
    next_step: PlanStep | None = None
    answerable: Sequence[str] = ()
    """Checks that what lies there can answer."""

    def planned(self, first):
        """The step of the plan that a form starts with, None where it is on none."""
        return next((step for step in self.steps if step.id == first["step"]), None)

    def of(self, kind):
        """The corrected entry's row of this kind, None for a new entry."""
        return getattr(self.entry, kind.name, None) if self.entry else None


@dataclass(frozen=True)
class Context:
    """What a line of the record may need beside its entry.

    share: of the zone [0..1]; step: of the plan; pots: by id of their entry; batches: [(name, use by, kit)];
    air: a Moment.
    """

    share: float = 1.0
    step: PlanStep | None = None
    pots: Mapping[int, Any] = field(default_factory=dict)
    batches: Sequence[tuple] = ()
    air: Any = None
    struck: bool = False


class EntryKind:
    """A kind of entry. One module of this package defines one; nothing else has to know of it."""

    key = ""
    label = ""
    """What the record calls it."""
    offered = ""
    """What Log calls it, if not so."""
    group = ""
    """A key of GROUPS, "" where Log does not offer it."""
    order = 0
    """Its place among all."""
    row = None
    """The model of its details."""
    may_have_no_row = False
    """True where nothing told is no row."""
    form = None
    """The form that logs it, None where a page of its own does."""
    of_pot = False
    """True for what happens to a pot, and to no surface."""
    columns = ()
    """Columns of its row that its event is made from."""
    related = ()
    """Paths from the entry that the record reads along."""
    caution_step = ""
    """The kind of step whose cautions it owes."""
    cautions = ()
    work = ""
    """The kind of work that it counts as."""
    names = ()
    """Columns of its row that its form asks under the same names."""
    given = ()
    """Fields that a link may fill."""
    at_once = False
    """True if one tap may record it, with what its form shows at first."""
    lasts = False
    """True if it takes so long that its beginning is worth a tap of its own."""
    together = True
    """True if one entry of it may be of several zones."""
    same = ()
    """Fields that are done alike on a like face."""
    follows = ()
    """Fields that the chosen step of the plan decides."""

    name = ""
    """How an entry calls its row; its key with underscores if nothing is said."""

    def __init__(self):
        self.name = self.name or self.key.replace("-", "_")

    @property
    def offer(self):
        """What Log calls it."""
        return self.offered or self.label

    def event(self, common, told, sheets):
        """The core's event, None for what changes no surface.

        common: begin, end [epoch s], share, step, entry; told: {column: value}; sheets: by id of their revision.
        """
        return None

    def recorded_by(self, step):
        """True if an entry of this kind may record a step of this kind (STEPS)."""
        return step.entry == self.key

    def form_kwargs(self, about):
        """More arguments of its form."""
        return {}

    def initial(self, about, first):
        """Its fields before anything is typed; first: what every form starts with."""
        told = about.of(self)
        return {name: getattr(told, name) for name in self.names} if told else {}

    def prepare(self, data):
        """What takes time and needs no database, before the transaction; `details` finds it as data["prepared"]."""

    def details(self, data, about):
        """The row's fields from the cleaned form, None for no row. Raises Refused."""
        return {name: data[name] for name in self.names}

    def zones(self, form, about):
        """((zone, share, step id), ...) as typed."""
        return form.zones()

    def others(self, about, zones):
        """Those of a job's other zones on which it may have been done together with this one."""
        return zones if self.together else ()

    def context(self, about):
        """More for its page."""
        return {}

    def after(self, entry, data, about):
        """What follows once it is recorded, in the same transaction."""

    def dependants(self, entry):
        """A condition for entries that name this one, None if none can."""
        return None

    def photo(self, entry):
        """The photo that the record shows with it, None without one."""

    def tell(self, entry, context):
        """(title, [(name, text), ...]) of its line in the record."""
        return self.label, []
