"""What a dossier tells, gathered once for its pages and its PDF."""

from dataclasses import dataclass, field
from datetime import date

from emplastra.core.air.lag import SUBSTRATES
from emplastra.core.care.watch import YEARS, months_after
from emplastra.core.survey.topics import STAGES
from emplastra.core.words import film_q, length_q
from emplastra.jobs import colours, estimates, handing, registers
from emplastra.jobs.copies import copied_on
from emplastra.jobs.models import Photo, Quiet
from emplastra.logbook.models import Kind
from emplastra.record.selectors import records
from emplastra.state.handed import Face, faces_of, may_of, touch_ups
from emplastra.state.money import money_of
from emplastra.state.stack import LINEAR_UM
from emplastra.survey.selectors import job_map, surveys

KEPT_TOPICS = ("marks", "sample")
STACK_PX, LEAST_PX, METAL_PX = 250.0, 20.0, 26.0


@dataclass
class Stratum:
    """Coats of one step and product as they lie: film left [µm] (None: not known), put on and sanded off it, by what it
    is known; day of the first and last of them; batches; hatch and colour; where it is drawn.
    """

    name: str
    detail: str
    left_um: float | None
    put_um: float | None
    sanded_um: float
    basis: str
    how: str
    first_s: float
    last_s: float
    coats: int
    share: float
    hatch: str
    colour: str
    batches: tuple = ()
    top_um: float = 0.0
    y: float = 0.0
    height: float = LEAST_PX

    @property
    def broken(self):
        """True if it is drawn with a break: thicker than what is to scale."""
        return (self.left_um or 0.0) > LINEAR_UM

    @property
    def partly(self):
        """True if it lies on a part of the face alone."""
        return self.share < 0.999

    @property
    def middle(self):
        """Where its name stands."""
        return self.y + self.height / 2


@dataclass
class FacePage:
    """One face of a dossier: all that is told of it."""

    face: Face
    number: int
    strata: list
    found: list
    photos: list
    coats: list
    accepted: list = field(default_factory=list)
    contractor: list = field(default_factory=list)
    kept: list = field(default_factory=list)
    left: list = field(default_factory=list)
    looks: list = field(default_factory=list)
    height: float = 0.0

    @property
    def zone(self):
        """The zone."""
        return self.face.zone

    @property
    def known_um(self):
        """What its layers add up to [µm], None where one is not known."""
        films = [s.left_um * s.share for s in self.strata if s.left_um is not None]
        return sum(films) if films and len(films) == len(self.strata) else None

    @property
    def over(self):
        """What it lies over, in words."""
        revision = self.face.revision
        return SUBSTRATES[revision.substrate][0].lower() if revision else "what was there"

    @property
    def readings(self):
        """Readings of the gauge [µm], from the least to the most; none without a gauge."""
        return sorted(r.um for r in self.face.gauging.readings) if self.face.gauging else []

    @property
    def asked(self):
        """What is asked of the film, None where nothing is."""
        return self.face.gauging.asked if self.face.gauging else None


@dataclass
class Dossier:
    """A job as it is handed over. parts: keys of handing.PARTS; as_of: aware."""

    job: object
    workshop: object
    as_of: object
    parts: frozenset
    words: str
    faces: list
    views: list = field(default_factory=list)
    zones: dict = field(default_factory=dict)
    decisions: list = field(default_factory=list)
    quiet: list = field(default_factory=list)
    colours: list = field(default_factory=list)
    off: list = field(default_factory=list)
    may: tuple = ()
    touch: list = field(default_factory=list)
    money: object = None
    open_acts: int = 0

    @property
    def began_s(self):
        """The first thing that was logged [epoch s], None where nothing was."""
        return min((p.face.began_s for p in self.faces if p.face.began_s is not None), default=None)

    @property
    def finished(self):
        """The day of the last coat, None where none is on."""
        return max((p.face.finished for p in self.faces if p.face.finished), default=None)

    @property
    def finished_s(self):
        """The last coat of all [epoch s]."""
        return max((p.face.finished_s for p in self.faces if p.face.finished_s is not None), default=None)

    @property
    def years(self):
        """The years that its looks are drawn over."""
        first = (self.finished or self.as_of.date()).year
        return range(first, first + YEARS + 1)

    @property
    def until(self):
        """The last day of them."""
        return date(self.years[-1], 12, 31)

    def has(self, part):
        """True if a part was chosen."""
        return part in self.parts

    @property
    def schedule(self):
        """[(what, faces, day)] of the looks that come first, one row each kind, in order of time."""
        rows = {}
        for page in self.faces:
            for look in page.looks:
                row = rows.setdefault((look.what, look.sign), [look, []])
                row[1].append(page.zone.name)
        return sorted(((look, names) for look, names in rows.values()), key=lambda row: row[0].first)


def dossier_of(job, book, parts=None, words="", say=lambda share, words: None):
    """The Dossier of a job; parts: None for what was chosen last, else what is usual. say: how far it is."""
    held, workshop = handing.handed_over(job), book.facts.workshop
    chosen = frozenset(parts or (held.parts if held else handing.USUAL))
    say(0.05, "folding what was done")
    faces = faces_of(book, sorted(book.zones_of(job), key=lambda zone: (zone.parent_id is not None, zone.pk)))
    say(0.15, "reading the record")
    pages = _pages(job, book, faces)
    say(0.4, "putting it together")
    found = Dossier(job, workshop, book.facts.now, chosen, words or (held.words if held else ""), pages)
    _told_of_job(found, book)
    found.may, found.touch = may_of(faces), touch_ups(faces, _batches(pages), job)
    coated = [face for face in faces if face.built.end_state == "coated"]
    found.open_acts = sum(face.state.plan.next is not None for face in coated)
    return found


def _told_of_job(found, book):
    """What is told of the piece as a whole; nothing is read for a part that nobody chose."""
    job = found.job
    if found.has("map"):
        drawn = job_map(job, book)
        found.views, found.zones = drawn.views, drawn.zones
    if found.has("decided"):
        found.decisions = estimates.sets_of(job, found.workshop.hourly_rate)
    if found.has("accepted"):
        found.quiet = list(Quiet.objects.filter(job=job).select_related("who").order_by("id"))
    if found.has("kept"):
        found.colours = list(colours.colours_of([job.pk]).get(job.pk, {}).items())
    if found.has("off"):
        found.off = registers.parts_of(job)
    if found.has("hours"):
        found.money = money_of(book, job)


def _pages(job, book, faces):
    """A FacePage for each face, in order."""
    zones = [face.zone for face in faces]
    lines = {record.zone.pk: record.lines for record in records(zones)}
    told, photos, copied = surveys(zones, book.facts.zones), _photos(faces), copied_on(zones)
    watches = [watch for watch in registers.watches() if watch.zone.job_id == job.pk]
    return [
        _page(
            face,
            n,
            lines.get(face.zone.pk, []),
            told[face.zone.pk],
            photos.get(face.zone.pk, []),
            watches,
            copied[face.zone.pk],
        )
        for n, face in enumerate(faces, 1)
    ]


def _photos(faces):
    found = {}
    for photo in Photo.objects.filter(zone__in=[face.zone for face in faces]).order_by("id"):
        found.setdefault(photo.zone_id, []).append(photo)
    return found


def _batches(pages):
    """{product: batches that lie on the faces}."""
    found = {}
    for page in pages:
        for stratum in page.strata:
            found.setdefault(stratum.name, set()).update(stratum.batches)
    return found


def _page(face, number, lines, survey, photos, watches, copied):
    """A face with what the record tells of it."""
    lines = [line for line in lines if line.struck is None]
    coats = [line for line in lines if line.entry.kind == Kind.COAT]
    strata, height = _strata(face, {line.entry.pk: line for line in coats})
    page = FacePage(face, number, strata, _passes(survey), photos, coats, height=height)
    page.accepted = [row for line in lines for row in _accepted(line)]
    page.contractor = [line for line in lines if line.entry.kind in {Kind.AWAY, Kind.BACK}]
    page.kept = _kept(survey, copied)
    page.left = _left(face, [watch for watch in watches if watch.zone_id == face.zone.pk])
    page.looks = list(face.looks)
    return page


def _accepted(line):
    """[(sentence, reason, who, when, of what)] of the verdicts on an entry that were taken on."""
    told = ((a.verdict.sentence, a.acceptance) for a in (line.ruled.accepted if line.ruled else ()))
    return [(sentence, a.reason, a.who, a.recorded, line.title) for sentence, a in told]


def _copy(row):
    """Something copied, in words."""
    measures = ", ".join(f"{name} {length_q(mm)}" for name, mm in row.measures)
    datum = f", from {row.datum}" if row.datum else ""
    return f"{row.what} ({row.get_kind_display().lower()}){datum}{f': {measures}' if measures else ''}"


def _kept(survey, copied):
    """What was told of marks, textures and the first colour, and what was copied before it was cut."""
    told = [s.answer for s in survey.statements if s.finding.topic in KEPT_TOPICS]
    said = [answer.sentence for answer in told if answer.choice != "none"]
    return [*said, *(f"Copied before it was cut: {_copy(row)}" for row, _ in copied)]


def _left(face, watches):
    """[(what, why, next look)] of what was left as it is, or put off."""
    revision, found = face.revision, [(watch.what, watch.why, watch.due) for watch in watches]
    if revision is not None and revision.end_state != "coated":
        return [(revision.get_end_state_display(), revision.reason, None), *found]
    return found


def _passes(survey):
    """[(pass, statements)] of a survey; what a later pass took the place of stands in its own."""
    told = [
        (name, [*_earlier(key, survey), *(s for s in survey.statements if s.finding.stage == key)])
        for key, name in STAGES.items()
    ]
    return [(name, rows) for name, rows in told if rows]


def _earlier(stage, survey):
    """Statements of a pass that a later one took the place of."""
    return [
        Earlier(row)
        for statement in survey.statements
        for row in statement.before
        if row.stage == stage and row.stage != statement.finding.stage
    ]


@dataclass
class Earlier:
    """A statement as it was first told, as a Statement is shown."""

    finding: object

    @property
    def answer(self):
        """The core's value."""
        return self.finding.answer


def _strata(face, coats):
    """([Stratum] from the metal up, height of their picture [px])."""
    groups = []
    for layer, looks in zip(face.layers, face.hatches, strict=True):
        if groups and (groups[-1][0][0].step, groups[-1][0][0].product) == (layer.step, layer.product):
            groups[-1][0].append(layer)
        else:
            groups.append(([layer], looks))
    found = [_stratum(layers, looks, coats) for layers, looks in groups]
    drawn = sum(min(s.left_um or 0.0, LINEAR_UM) for s in found) or 1.0
    scale, y, um = STACK_PX / max(drawn, 120.0), METAL_PX, 0.0
    for each in found:
        each.height = max(LEAST_PX, min(each.left_um or 0.0, LINEAR_UM) * scale)
        um += (each.left_um or 0.0) * each.share
        each.y, each.top_um = y, um
        y += each.height
    return found, y


def _stratum(layers, looks, coats):
    entries = {pk: None for layer in layers for pk in layer.entries}
    n, sanded = len(entries) or len(layers), sum(layer.sanded_um for layer in layers)
    basis = max((layer.film.basis.value for layer in layers), key=_ORDER.index)
    return Stratum(
        layers[0].product,
        _detail(n, sanded),
        _added(layers, "left_um"),
        _added([layer.film for layer in layers], "dft_um"),
        sanded,
        basis,
        layers[-1].film.how,
        layers[0].began_s,
        layers[-1].ended_s,
        n,
        min(layer.share for layer in layers),
        *looks,
        batches=_told_batches(entries, coats),
    )


def _detail(coats, sanded_um):
    """How many coats a layer has, and what was sanded off it [µm], in words."""
    said = f"{coats} coat{'s' if coats > 1 else ''}"
    return f"{said}, {film_q(sanded_um)} sanded off" if sanded_um else said


def _added(layers, name):
    """Films of layers together [µm], None where one of them is not known."""
    films = [getattr(layer, name) for layer in layers]
    return None if any(um is None for um in films) else sum(films)


def _told_batches(entries, coats):
    """Batches that the record names for these coats, each once, in order."""
    lines = [coats[pk] for pk in entries if pk in coats]
    told = {name for line in lines for name in dict(line.facts).get("batch", "").split(", ")}
    return tuple(sorted(told - {"", "none named"}))


_ORDER = ("measured", "data sheet", "typed in", "computed", "estimated", "forecast", "assumed")


def years_on(day, first):
    """How many years a day lies after the first of January of a year, as it is drawn."""
    return day.year - first + (day.timetuple().tm_yday - 1) / 365.25


def calendar_days(dossier):
    """[(day, what, sign, face names)] of every look of a dossier over the years to come, in order."""
    until = months_after(dossier.finished or dossier.as_of.date(), 12 * YEARS)
    rows = [(day, look.what, look.sign, names) for look, names in dossier.schedule for day in look.dates(until)]
    return sorted(rows, key=lambda row: row[0])
