"""The record of zones and jobs: every entry, its verdicts, and what was struck through."""

import json
from dataclasses import dataclass, field

from django.db.models import Q

from emplastra.core.surface.events import CHECKS
from emplastra.core.surface.steps import STEPS
from emplastra.core.survey.contractor import CAME_BACK, TRADES
from emplastra.core.survey.file import to_json
from emplastra.core.survey.inspection import FAULT, POINTS, word
from emplastra.jobs.judging import accepted_in
from emplastra.jobs.models import BuildUpVersion, ZoneRevision
from emplastra.jobs.survey_files import told_of
from emplastra.logbook.models import Entry, EntryZone, Kind
from emplastra.state.coats import batches_of, judge_coat, mend, pots_of
from emplastra.state.facts import film_of, load


@dataclass
class RecordLine:
    """An entry in the record: its text, film, verdicts, and its correction if it is struck through.

    accepted: (verdict, who accepted it and why) of those that are.
    """

    entry: Entry
    share: float
    title: str
    facts: list = field(default_factory=list)
    film: object = None
    plan_um: float = 0.0
    verdicts: list = field(default_factory=list)
    accepted: list = field(default_factory=list)
    struck: object = None
    replaces: object = None
    can_correct: bool = False


@dataclass
class ZoneRecord:
    """A zone with its lines in order, and its facts."""

    zone: object
    facts: object
    lines: list


_DETAILS = ("moved__place", "bared", "degreased__product", "keyed", "coat__product", "coat__revision", "coat__reading", "coat__tin", "pot__revision__product", "weighed__tin", "pot_ended", "prepped__product", "checked", "inspected", "film_lost", "away", "back", "access", "replaced_by__by", "replaced_by__who", "correction_of")  # fmt: skip


def records(zones, user=None):
    """ZoneRecords of these zones, in a few queries for all."""
    facts = load(zones, whole=True)
    rows = EntryZone.objects.filter(zone__in=zones).select_related("entry__who", *[f"entry__{d}" for d in _DETAILS])
    rows = list(rows.order_by("entry__ended", "entry_id"))
    mend(rows)
    pots, accepted = pots_of(rows, facts), accepted_in(zones)
    by_zone = {}
    for row in rows:
        line = _line(row, facts, pots, user)
        line.accepted = [(v, accepted[row.zone_id, v.key]) for v in line.verdicts if (row.zone_id, v.key) in accepted]
        line.verdicts = [v for v in line.verdicts if (row.zone_id, v.key) not in accepted]
        by_zone.setdefault(row.zone_id, []).append(line)
    return [ZoneRecord(zone, facts.zones[zone.pk], by_zone.get(zone.pk, [])) for zone in zones]


def _line(row, facts, pots, user):
    entry = row.entry
    line = RecordLine(entry, row.share, entry.get_kind_display())
    line.struck, line.replaces = getattr(entry, "replaced_by", None), getattr(entry, "correction_of", None)
    line.can_correct = (
        line.struck is None and user is not None and user.may_write and (user.is_owner or entry.who_id == user.pk)
    )
    _TELL.get(entry.kind, lambda *_: None)(line, row, facts, pots)
    return line


def _tell_moved(line, row, facts, pots):
    line.title = f"Moved to {row.entry.moved.place}"


def _tell_bared(line, row, facts, pots):
    told = getattr(row.entry, "bared", None)
    if told:
        line.title = f"Bared: {told.get_how_display().lower()}"


def _tell_degreased(line, row, facts, pots):
    product = row.entry.degreased.product
    line.title = f"Degreased with {product}" if product else "Degreased"


def _tell_keyed(line, row, facts, pots):
    keyed = row.entry.keyed
    line.title = f"Keyed with {keyed.grit}"
    if keyed.um_off:
        line.facts.append(("film off", f"{keyed.um_off:.0f} µm"))


def _tell_pot(line, row, facts, pots):
    pot = pots[row.entry_id]
    line.title = f"Pot of {pot.sheet.product}"
    line.facts.append(("ratio", f"{pot.variant.ratio_text} by {pot.variant.by}, {pot.variant.name}"))
    line.facts.append(("wanted", f"{pot.pot.ready_ml:.0f} mL ready to use at {pot.pot.temp_c:.1f} °C"))
    line.facts += [(part.name, f"{pot.masses[part.key]:.1f} g") for part in pot.ratios if part.key in pot.masses]
    names = {part.key: part.name for part in pot.ratios}
    line.facts += [(f"{names[d.key]} off by", f"{d.pct:+.1f} %".replace("-", "−")) for d in pot.balance.deviations]


def _tell_weighed(line, row, facts, pots):
    weighed = row.entry.weighed
    batch = f", batch {weighed.tin.batch}" if weighed.tin else ", no batch named"
    part = (
        next(p.part.name for p in pots[weighed.pot_id].poured if p.entry.pk == row.entry_id)
        if line.struck is None and weighed.pot_id in pots
        else weighed.part
    )
    line.title = f"Weighed {part.lower()}: scale {weighed.scale_g:.1f} g{batch}"


def _tell_pot_ended(line, row, facts, pots):
    line.title = f"Pot emptied, {row.entry.pot_ended.waste_ml:.0f} mL left over"


def _tell_prepped(line, row, facts, pots):
    line.title = f"{row.entry.prepped.product} put on, kept wet"


def _tell_checked(line, row, facts, pots):
    told = row.entry.checked
    kind = CHECKS[told.check_kind]
    line.title = f"{kind.name}: {kind.passes if told.passed else kind.fails}"


def _tell_inspected(line, row, facts, pots):
    told = row.entry.inspected.points
    faults = [POINTS[key].name.lower() for key, answer in told.items() if answer == FAULT]
    line.title = f"Inspected: {'fault in ' + ', '.join(faults) if faults else 'no fault in what was looked at'}"
    line.facts += [(point.name, word(key, told.get(key, ""))) for key, point in POINTS.items()]


def _tell_film_lost(line, row, facts, pots):
    told = row.entry.film_lost
    line.title = f"{told.get_cause_display()}: film lost on {row.share:.1%} of it"
    if told.length_mm:
        line.facts.append(("strip", f"{told.length_mm:.0f} × {told.strip_mm:.0f} mm"))


def _tell_away(line, row, facts, pots):
    told = row.entry.away
    line.title = f"{told.contractor} came for {told.work}" if told.visit else f"Sent to {told.contractor}: {told.work}"
    if told.due:
        line.facts.append(("due back", f"{told.due:%d %b %Y}"))
    line.facts += [(name, text) for name, text in (("condition out", told.condition),) if text]
    wanted = TRADES[told.trade].wants
    if told.trade != "other":
        line.facts.append(("looked after", f"{len(set(wanted) & set(told.send_off))} of {len(wanted)}"))


def _tell_back(line, row, facts, pots):
    told = row.entry.back
    line.title = f"Back: {told.condition or 'condition not told'}"
    line.facts.append(("came", CAME_BACK[told.came].lower() + (f", {told.primer}" if told.primer else "")))
    if told.rework:
        line.facts.append(("to be done again", told.rework))


def _tell_access(line, row, facts, pots):
    told = row.entry.access
    line.title = told.get_how_display() + (f", {told.what}" if told.what else "")


def _tell_done(line, row, facts, pots):
    step = next((s for s in facts.zones[row.zone_id].steps if s.id == row.step), None)
    line.title = f"{STEPS[step.kind].name}: done" if step else "Step done"


def _tell_coat(line, row, facts, pots):
    entry, coat = row.entry, row.entry.coat
    pot = pots.get(coat.pot_id)
    line.title = f"Coat of {coat.product}"
    line.film, _ = film_of(coat)
    line.plan_um = coat.plan_um
    batches = batches_of(coat, pot)
    line.facts.append(("batch", ", ".join(name for name, _ in batches) or "none named"))
    line.facts.append(("method", f"{coat.method}, {coat.thinner_pct:g} % thinner"))
    if coat.wft_um:
        line.facts.append(("wet film", " ".join(f"{v:.0f}" for v in coat.wft_um) + " µm"))
    each = facts.zones[row.zone_id]
    if each.where is None:
        return
    air = each.where.at(entry.began.timestamp())
    line.facts.append(("air", f"{air.air_c:.1f} °C, {air.rh_pct:.0f} %, dew {air.dew_c:.1f} °C, {air.basis.value}"))
    if coat.surface_c is not None:
        line.facts.append(("surface", f"{coat.surface_c:.1f} °C typed"))
    if line.struck is None:
        line.verdicts = judge_coat(entry, each, facts, pot)


_TELL = {
    Kind.MOVED: _tell_moved,
    Kind.BARED: _tell_bared,
    Kind.DEGREASED: _tell_degreased,
    Kind.KEYED: _tell_keyed,
    Kind.POT: _tell_pot,
    Kind.WEIGHED: _tell_weighed,
    Kind.POT_ENDED: _tell_pot_ended,
    Kind.COAT: _tell_coat,
    Kind.PREPPED: _tell_prepped,
    Kind.CHECKED: _tell_checked,
    Kind.INSPECTED: _tell_inspected,
    Kind.FILM_LOST: _tell_film_lost,
    Kind.AWAY: _tell_away,
    Kind.BACK: _tell_back,
    Kind.ACCESS: _tell_access,
    Kind.DONE: _tell_done,
}


def zones_of_batch(tin):
    """Zones that a batch went on, by coats straight from it or from pots it was poured into."""
    live = Entry.objects.known_at()
    pots = live.filter(weighed__tin=tin).values("weighed__pot")
    coats = live.filter(Q(coat__tin=tin) | Q(coat__pot__in=pots))
    return (
        EntryZone.objects.filter(entry__in=coats)
        .select_related("zone__job", "entry__coat__product")
        .order_by("entry__ended")
    )


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
    measures = ("substrate", "thickness_mm", "form", "finish_class", "profile", "shapes", "reason", "recorded")
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


def _entry_document(line):
    entry = line.entry
    document = {
        "id": entry.pk, "kind": entry.kind, "began": entry.began, "ended": entry.ended, "recorded": entry.recorded,
        "who": entry.who.username, "share": line.share, "note": entry.note, "title": line.title, "facts": dict(line.facts),
    }  # fmt: skip
    if line.film:
        document["film"] = {
            "dft_um": line.film.dft_um,
            "basis": line.film.basis.value,
            "how": line.film.how,
            "plan_um": line.plan_um,
        }
    if line.verdicts:
        document["verdicts"] = [{"id": v.rule, "severity": v.severity, "sentence": v.sentence} for v in line.verdicts]
    if line.accepted:
        document["accepted"] = [{"id": v.rule, "sentence": v.sentence, "reason": row.reason, "who": row.who.username, "recorded": row.recorded} for v, row in line.accepted]  # fmt: skip
    if line.struck:
        document["struck_through"] = {
            "reason": line.struck.reason,
            "recorded": line.struck.recorded,
            "by": line.struck.by_id,
        }
    return document
