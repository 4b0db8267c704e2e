"""What the survey's pages read."""

from collections import defaultdict
from dataclasses import dataclass, field

from emplastra.core.piece.job_map import NUMBERED, Tile, arrange, free_place, view_of
from emplastra.core.survey import findings as core
from emplastra.core.survey.answers import Coverage, coverage_of, total, unasked
from emplastra.core.survey.topics import TOPICS
from emplastra.jobs.models import Finding, FindingWord, MapPlace, Zone, ZoneRevision
from emplastra.jobs.survey_files import in_order
from emplastra.state.known import coverage_in, known, steps_of


@dataclass
class Statement:
    """A finding that holds, with what was said of it and where it stands."""

    finding: Finding
    words: list
    life: core.Life
    before: list = field(default_factory=list)

    @property
    def answer(self):
        """The core's value."""
        return self.finding.answer


@dataclass
class ZoneSurvey:
    """What is known of a zone: its statements by (topic, mark), all passes taken together, and its coverage."""

    zone: Zone
    revision: ZoneRevision
    area_m2: float
    found: dict
    statements: list
    coverage: Coverage

    @property
    def open(self):
        """Findings that are still open."""
        return [s for s in self.statements if s.life.is_open]

    @property
    def unasked(self):
        """Questions that nobody has answered."""
        return unasked([s.answer for s in self.statements], self.revision.substrate if self.revision else "")

    def held(self, stage, topic, mark=""):
        """The finding that holds in a pass, None if there is none."""
        return self.found.get((stage, topic, mark))


def surveys(zones, facts=None):
    """{zone id: ZoneSurvey} of these zones, in three queries.

    facts: their ZoneFacts by id, for steps that are planned and logged; without them no step counts.
    """
    ids = [zone.pk for zone in zones]
    if facts is None:
        measures = {r.zone_id: r for r in ZoneRevision.objects.filter(zone__in=ids).order_by("id")}
    else:
        measures = {pk: facts[pk].revision for pk in ids if pk in facts}
    by_zone, words = defaultdict(list), defaultdict(list)
    for row in Finding.objects.filter(zone__in=ids).order_by("id"):
        by_zone[row.zone_id].append(row)
    for word in FindingWord.objects.filter(finding__zone__in=ids).order_by("id"):
        words[word.finding_id].append(word)
    return {
        zone.pk: _survey(zone, measures.get(zone.pk), by_zone[zone.pk], words, (facts or {}).get(zone.pk))
        for zone in zones
    }


def _survey(zone, revision, rows, words, facts):
    area = facts.area_m2 if facts is not None and revision is not None else revision.area_m2 if revision else 0.0
    found, chains = {}, defaultdict(list)
    for row in rows:
        found[row.stage, row.topic, row.mark] = row
        chains[row.topic, row.mark].append(row)
    statements = [_statement(chain, words, facts) for chain in chains.values()]
    statements.sort(key=lambda s: (_ORDER[s.finding.topic], s.finding.mark))
    looked = next((s.finding for s in statements if s.finding.topic == "looked"), None)
    seen = coverage_of(area, looked.choice, looked.values) if looked else coverage_of(area)
    return ZoneSurvey(zone, revision, area, found, statements, seen)


_ORDER = {topic: place for place, topic in enumerate(TOPICS)}


def _statement(chain, words, facts):
    """The newest statement of a topic and mark, one as bared before one as found, with all that was said of it."""
    holds = ([row for row in chain if row.stage == "bared"] or chain)[-1]
    all_words = [word for row in chain for word in words.get(row.pk, ())]
    told = [
        each.answer.trouble if isinstance(each, Finding) else core.Word(each.said, each.cause, each.step)
        for each in in_order(chain, all_words)
    ]
    life = core.life(holds.answer.trouble, TOPICS[holds.topic].wants_cause, core.since(told), *steps_of(facts))
    before = [row for row in chain if row is not holds]
    return Statement(holds, sorted(all_words, key=lambda word: word.pk), life, before)


@dataclass
class Summary:
    """A zone's survey in figures: coverage, and how many statements have each status."""

    revision: ZoneRevision
    coverage: Coverage
    counts: dict

    @property
    def area_m2(self):
        """Its area [m2]."""
        return self.coverage.total_m2

    @property
    def open_count(self):
        """Findings that are still open."""
        return sum(self.counts.get(status, 0) for status in core.STILL_OPEN)


def summaries(zones, facts):
    """{zone id: Summary} of many zones. facts: their ZoneFacts by id."""
    return {pk: _summary(facts[pk], told) for pk, told in known(zones, facts).items()}


def _summary(facts, told):
    counts = {}
    for status in (each.status for each in told.values()):
        counts[status] = counts.get(status, 0) + 1
    area = facts.area_m2 if facts.revision is not None else 0.0
    return Summary(facts.revision, coverage_in(told, area), counts)


@dataclass
class MapZone:
    """A zone on the map."""

    zone: Zone
    name: str
    url: str
    stage: str
    seen: str
    urgent: bool
    spots: int
    survey: Summary
    spot_rows: list = field(default_factory=list)
    number: int = 0

    @property
    def words(self):
        """Its finish class, and how it ends if it is not coated."""
        revision = self.survey.revision
        end = "" if revision.end_state == "coated" else f" · {revision.get_end_state_display().lower()}"
        return f"{revision.get_finish_class_display().lower()}{end}"


@dataclass
class JobMap:
    """A job's map: views as drawn, zones by id in the order of the list, coverage, open findings."""

    views: list
    zones: dict
    coverage: Coverage
    open_count: int
    retired: list
    is_numbered: bool


def job_map(job, book):
    """The map of a job."""
    zones = book.zones_of(job)
    retired = list(job.zones.filter(removed=False).exclude(retired="").order_by("id"))
    places = MapPlace.objects.filter(zone__job=job).in_bulk()
    found = summaries(zones, book.facts.zones)
    urgent = {pk for group, _, pk in book.order() if group == 1}
    known, tiles, taken = {}, [], [row.cells for row in places.values()]
    for zone in zones:
        survey = found[zone.pk]
        seen, paint, _ = survey.coverage.shares
        how = "seen" if seen > 0.5 else "paint" if seen + paint > 0.5 else "unseen"
        stage = book.stage_of(book.facts.zones[zone.pk])
        known[zone.pk] = MapZone(zone, zone.name, zone.get_absolute_url(), stage, how, zone.pk in urgent, 0, survey)
    for zone in zones:
        if zone.parent_id in known:
            known[zone.parent_id].spots += 1
            known[zone.parent_id].spot_rows.append(known[zone.pk])
            continue
        row = places.get(zone.pk)
        cells = row.cells if row else free_place(view_of(zone.name), taken)
        if not row:
            taken.append(cells)
        known[zone.pk].number = len(tiles) + 1
        tiles.append(Tile(zone.pk, zone.name, known[zone.pk].stage, cells, len(tiles) + 1))
    whole = total([m.survey.coverage for m in known.values() if m.zone.parent_id is None])
    opened = sum(m.survey.open_count for m in known.values())
    return JobMap(arrange(tiles), known, whole, opened, retired, len(tiles) > NUMBERED)


def plain_view(cells, zone, rows):
    """A view with one zone at a place and others where they are: names only."""
    from .map_svg import view_svg

    tiles = [Tile(zone.pk, zone.name, "here", cells), *(Tile(r.zone_id, r.zone.name, "", r.cells) for r in rows)]
    known = {}
    for tile in tiles:
        stage = "Colour" if tile.key == zone.pk else "Survey"
        known[tile.key] = MapZone(zone, tile.name, zone.get_absolute_url(), stage, "seen", False, 0, None)
    return "".join(view_svg(view, known) for view in arrange(tiles, whole_grid=True))
