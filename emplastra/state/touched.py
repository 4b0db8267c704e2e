"""What a revision of a data sheet touches: plans that use the product, pots that stand, windows that move."""

from dataclasses import dataclass, field, replace

from emplastra.core.surface.events import Coated
from emplastra.jobs.models import Zone
from emplastra.logbook.models import EntryZone, Kind, holds
from emplastra.materials.models import SheetRevision
from emplastra.materials.selectors import sheet_of

from .facts import ZoneKept
from .selectors import state_of


@dataclass
class Moved:
    """A zone whose window moved: opens and closes [epoch s] before and after, None where there is none."""

    zone: Zone
    before: tuple
    after: tuple


@dataclass
class Touched:
    """Zones whose plan has a step of the product still to do, pots of it that stand, and zones whose window moved."""

    plans: list = field(default_factory=list)
    pots: list = field(default_factory=list)
    moved: list = field(default_factory=list)

    @property
    def anything(self):
        """True if it touches something."""
        return bool(self.plans or self.pots or self.moved)


def touched(book, product, revision):
    """What a revision of a product touches in the open zones of a book."""
    found = Touched()
    for pk in sorted(book.open_ids):
        each = book.facts.zones[pk]
        done = book.state(each.zone).plan.done_ids
        if any(s.product == product.name and s.id not in done and not s.left_out for s in each.steps):
            found.plans.append(each.zone)
    found.pots = [pot for pot in book.pots() if pot.sheet.product == product.name]
    found.moved = list(_moved(book, product, revision))
    return found


def _moved(book, product, revision):
    """Zones whose window moved: only a typing error of ours reaches coats that are on."""
    older = product.revisions.filter(number=revision.number - 1).first()
    if revision.why != SheetRevision.Why.TYPING or older is None:
        return
    before = sheet_of(older)
    earlier = EntryZone.objects.filter(
        holds(None, "entry__"),
        entry__kind=Kind.COAT,
        entry__coat__product=product,
        entry__coat__revision__number__lt=revision.number,
        zone__in=book.open_ids,
    )
    entries = set(earlier.values_list("entry_id", flat=True))
    for pk in sorted(set(earlier.values_list("zone_id", flat=True))):
        each = book.facts.zones[pk]
        as_was = tuple(
            replace(e, sheet=before) if isinstance(e, Coated) and e.entry in entries else e for e in each.events
        )
        old = replace(each, events=as_was, kept=ZoneKept())
        t_s = book.facts.now.timestamp()
        spans = [_span(state_of(one, book.facts, t_s)) for one in (old, each)]
        if spans[0] != spans[1]:
            yield Moved(each.zone, *spans)


def _span(state):
    window = state.surface.window
    return (None, None) if window is None else (window.opens_s, window.closes_s)
