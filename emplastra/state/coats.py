"""What was done to zones, with what the one judge says of each act, on what was there when it was begun."""

from emplastra.core.rules.face import Tense
from emplastra.logbook.models import Entry, EntryZone, Kind, holds
from emplastra.materials.selectors import mended, sheet_of

from .acts import CoatTold, coat_act, event_act
from .dated import judged
from .facts import load
from .pots import views
from .ruling import Rulings


def pots_of(rows, facts):
    """{entry id: PotView} of the pots that these entries on zones are, or came from."""
    ids = {row.entry.coat.pot_id for row in rows if row.entry.kind == Kind.COAT and row.entry.coat.pot_id}
    ids |= {row.entry_id for row in rows if row.entry.kind == Kind.POT}
    entries = Entry.objects.filter(pk__in=ids).select_related("pot__revision__product").in_bulk()
    zones = {}
    for row in EntryZone.objects.filter(entry__in=ids).select_related("zone"):
        zones.setdefault(row.entry_id, []).append(row.zone)
    return {pot.entry.pk: pot for pot in views(entries, facts, zones)}


def mend(rows):
    """Let coats go by the sheet as it was mended since, where the typing error was ours."""
    held = mended()
    for coat in (row.entry.coat for row in rows if row.entry.kind == Kind.COAT):
        coat.revision = held.get(coat.revision_id, coat.revision)


def date(rows, zone):
    """Tell coats from a tin until when it may be used, and whether it is recalled; zone: the workshop's time zone."""
    coats = [row.entry.coat for row in rows if row.entry.kind == Kind.COAT and row.entry.coat.tin_id]
    found = judged([(coat.tin, sheet_of(coat.revision)) for coat in coats], zone)
    for coat in coats:
        coat.of_tin = found[coat.tin_id]


def batches_of(coat, pot):
    """[(name, last day or None, kit, why it is recalled)] of what a coat was put on from, once it is dated."""
    if coat.tin:
        last, recalled = coat.of_tin
        return [(coat.tin.batch, last, coat.tin.kit, recalled)]
    return pot.batches if pot else []


def judge_entry(entry, each, rulings, pot=None):
    """Ruled of a logged act on a zone (ZoneFacts); None for what is not judged, or where no air is known at all.

    rulings: of zones with all the air that they had.
    """
    event = next((e for e in each.events if e.entry == entry.pk), None)
    if event is None or each.where is None or each.revision is None:
        return None
    first = None if event.step else rulings.first_of(entry.pk)
    if entry.kind == Kind.COAT:
        act = coat_act(_told(entry, event, pot), each, rulings.facts, Tense.WAS, first)
    else:
        act = event_act(event, each, rulings.facts, Tense.WAS, first)
    return None if act is None else rulings.rule(each.zone, act, rulings.face_then(each, act, entry.pk))


def _told(entry, event, pot):
    """A logged coat as it was told."""
    coat, sheet = entry.coat, sheet_of(entry.coat.revision)
    reading = coat.reading
    return CoatTold(
        coat.product.name,
        sheet,
        sheet.variant(coat.variant) if sheet else None,
        began_s=entry.began.timestamp(),
        ended_s=entry.ended.timestamp(),
        plan_um=coat.plan_um,
        thinner_pct=coat.thinner_pct,
        wft_um=coat.wft_um,
        air_c=reading.air_c if reading else None,
        rh_pct=reading.rh_pct if reading else None,
        surface_c=coat.surface_c,
        pot=pot.times() if pot else None,
        batches=batches_of(coat, pot),
        entry=entry.pk,
        step=event.step,
        share=event.share,
        of_face=event.of_face,
        method=coat.method,
        reducer=coat.reducer,
        used=coat.used,
    )


def judged_coats(zones):
    """[(zone, entry, Ruled)] of every coat that holds on these zones, in a few queries for all."""
    facts = load(zones, whole=True)
    rows = EntryZone.objects.filter(holds(None, "entry__"), zone__in=zones, entry__kind=Kind.COAT)
    rows = list(
        rows.select_related(
            "entry__coat__product", "entry__coat__revision", "entry__coat__reading", "entry__coat__tin"
        ).order_by("entry__ended", "entry_id")
    )
    mend(rows)
    date(rows, facts.workshop.zone)
    pots, rulings = pots_of(rows, facts), Rulings(facts, [zone.pk for zone in zones])
    found = []
    for row in rows:
        each = facts.zones[row.zone_id]
        ruled = judge_entry(row.entry, each, rulings, pots.get(row.entry.coat.pot_id))
        if ruled is not None:
            found.append((each.zone, row.entry, ruled))
    return found
