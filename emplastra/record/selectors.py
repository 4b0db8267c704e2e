"""The record of zones and jobs: every entry, its verdicts, and what was struck through."""

import json
from dataclasses import dataclass, field

from emplastra.core.surface.names import StepKind
from emplastra.core.survey.file import to_json
from emplastra.jobs.models import BuildUpVersion, ZoneRevision
from emplastra.jobs.survey_files import told_of
from emplastra.logbook.kind import Context
from emplastra.logbook.models import KINDS, Entry, EntryZone, Kind
from emplastra.shared.many import Narrow, Pages
from emplastra.shared.times import turn
from emplastra.state.coats import batches_of, date, judge_entry, mend, pots_of
from emplastra.state.facts import film_of, load
from emplastra.state.ruling import Rulings


@dataclass
class RecordLine:
    """An entry in the record: its text, film, what the rules say of it (Ruled), its correction if there is one.

    share: of the face, or of the part of it ("edges", "lows") that it was put on alone;
    drawn: the cells of the face that were covered.
    """

    entry: Entry
    share: float
    title: str
    facts: list = field(default_factory=list)
    film: object = None
    plan_um: float | None = None
    ruled: object = None
    struck: object = None
    replaces: object = None
    can_correct: bool = False
    by_form: bool = False
    photo: object = None
    drawn: str = ""
    of_part: str = ""


@dataclass
class ZoneRecord:
    """A zone with its lines in order, and its facts."""

    zone: object
    facts: object
    lines: list


_WORDS = ("entry__note", "entry__who__username", "zone__name", "entry__coat__product__name")
_DETAILS = (
    *(path for kind in KINDS.values() for path in kind.related),
    "replaced_by__by",
    "replaced_by__who",
    "correction_of",
)


@dataclass(frozen=True)
class Asked:
    """What is asked of a record: words, a kind, a page (None: the last), the page of an entry, or all on one."""

    narrow: Narrow
    kind: str = ""
    page: int | None = None
    entry: int | None = None


def paged(zones, asked):
    """(Pages of the ids of what was logged on these zones, zone by zone in their order, each from its first entry on;
    the kinds there are).
    """
    fitting = EntryZone.objects.filter(asked.narrow.where(*_WORDS), zone__in=zones).distinct()
    rows = list(fitting.values_list("zone_id", "entry__ended", "entry_id", "pk", "entry__kind"))
    kinds = sorted({row[4] for row in rows} | {asked.kind} - {""}, key=list(Kind.values).index)
    place = {zone.pk: number for number, zone in enumerate(zones)}
    rows = [row for row in rows if asked.kind in {"", row[4]}]
    rows.sort(key=lambda row: (place[row[0]], turn(row[1], row[2])))
    ids = [row[2] for row in rows]
    at = ids.index(asked.entry) if asked.entry in ids else None
    first = 1 if len(zones) > 1 and at is None else None  # a zone is read from its end, a job from its first zone
    return Pages([row[3] for row in rows], asked.page or first, at, whole=asked.narrow.everything), kinds


def records(zones, user=None, only=None):
    """ZoneRecords of these zones, in a few queries for all; `only` the ids of some of what was logged (EntryZone)."""
    rows = _rows(zones, only)
    if only is not None and len(zones) > 1:
        there = {row.zone_id for row in rows}
        zones = [zone for zone in zones if zone.pk in there]
    facts = load(zones, whole=True)
    mend(rows)
    date(rows, facts.workshop.zone)
    pots, rulings = pots_of(rows, facts), Rulings(facts, [zone.pk for zone in zones])
    by_zone = {}
    for row in rows:
        line = _line(row, facts, pots, user)
        if line.struck is None:
            pot = pots.get(row.entry.coat.pot_id) if row.entry.kind == Kind.COAT else None
            line.ruled = judge_entry(row.entry, facts.zones[row.zone_id], rulings, pot)
        by_zone.setdefault(row.zone_id, []).append(line)
    return [ZoneRecord(zone, facts.zones[zone.pk], by_zone.get(zone.pk, [])) for zone in zones]


def _rows(zones, only):
    """What was logged on zones, with its details, in order; of some of it, by their ids, where `only` is not None."""
    rows = EntryZone.objects.filter(zone__in=zones).select_related("entry__who", *[f"entry__{d}" for d in _DETAILS])
    found = rows if only is None else rows.filter(pk__in=only)
    return sorted(found, key=lambda row: turn(row.entry.ended, row.entry_id))


def _part_of(row, each):
    """What alone an act was on: edges of a stripe coat, lows that were filled; "" for the face."""
    if row.of_face >= 1.0:
        return ""
    kind = next((s.kind for s in each.steps if s.id == row.step), "")
    return "lows" if kind == StepKind.FILL else "edges"


def _line(row, facts, pots, user):
    entry = row.entry
    line = RecordLine(entry, row.share, entry.get_kind_display())
    line.drawn = row.drawn
    line.struck, line.replaces = getattr(entry, "replaced_by", None), getattr(entry, "correction_of", None)
    line.can_correct = (
        line.struck is None and user is not None and user.may_write and (user.is_owner or entry.who_id == user.pk)
    )
    line.by_form = KINDS[entry.kind].form is not None
    each = facts.zones[row.zone_id]
    line.of_part = _part_of(row, each)
    coat = entry.coat if entry.kind == Kind.COAT else None
    line.title, line.facts = KINDS[entry.kind].tell(
        entry,
        Context(
            row.share,
            next((s for s in each.steps if s.id == row.step), None),
            pots,
            batches_of(coat, pots.get(coat.pot_id)) if coat else (),
            each.where.at(entry.began.timestamp()) if coat and each.where else None,
            line.struck is not None,
        ),
    )
    line.photo = KINDS[entry.kind].photo(entry)
    if coat:
        line.film, line.plan_um = film_of(coat)[0], _planned(coat)
    return line


def _planned(coat):
    """Planned film of a coat [µm], None where none is; once that was kept as 0."""
    return coat.plan_um or None


def job_document(job, user):
    """The whole job as a JSON document: zones, measures, plans, every entry, struck ones too; its survey."""
    zones = list(job.zones.filter(removed=False).select_related("job"))
    found = records(zones, user)
    return {
        "format": "emplastra-job/1",
        "job": {
            "name": job.name,
            "for": job.owner_label,
            "standard": job.standard,
            "promised": job.promised,
            "filing": job.filing,
        },
        "zones": [_zone_document(record) for record in found],
        "survey": json.loads(to_json(job.name, told_of(zones)))["zones"],
    }


def _zone_document(record):
    zone = record.zone
    measures = (
        "substrate",
        "thickness_mm",
        "form",
        "finish_class",
        "profile",
        "shapes",
        "colour_group",
        "reason",
        "recorded",
    )
    return {
        "name": zone.name,
        "panel": zone.panel,
        "measures": [
            {k: getattr(r, k) for k in measures} for r in ZoneRevision.objects.filter(zone=zone).order_by("id")
        ],
        "plans": [
            {"number": b.number, "recorded": b.recorded, "steps": b.steps}
            for b in BuildUpVersion.objects.filter(zone=zone).order_by("number")
        ],
        "entries": [_entry_document(line) for line in record.lines],
    }


def _ruling_document(ruled):
    """What the rules say of an entry: what stands, what was accepted, what is not judged."""
    told = {
        "verdicts": [{"id": v.rule, "severity": v.severity, "sentence": v.sentence} for v in ruled.open],
        "accepted": [
            {
                "id": a.verdict.rule,
                "sentence": a.verdict.sentence,
                "reason": a.acceptance.reason,
                "who": a.acceptance.who.username,
                "recorded": a.acceptance.recorded,
            }
            for a in ruled.accepted
        ],
        "not_judged": dict(ruled.missing),
    }
    return {name: value for name, value in told.items() if value}


def _entry_document(line):
    entry = line.entry
    document = {
        "id": entry.pk,
        "kind": entry.kind,
        "began": entry.began,
        "ended": entry.ended,
        "recorded": entry.recorded,
        "who": entry.who.username,
        "share": line.share,
        "note": entry.note,
        "title": line.title,
        "facts": dict(line.facts),
    }
    if line.film:
        document["film"] = {
            "dft_um": line.film.dft_um,
            "basis": line.film.basis.value,
            "how": line.film.how,
            "plan_um": line.plan_um,
        }
    document |= _ruling_document(line.ruled) if line.ruled else {}
    if line.struck:
        document["struck_through"] = {
            "reason": line.struck.reason,
            "recorded": line.struck.recorded,
            "by": line.struck.by_id,
        }
    return document
