"""The care page of a piece: what may be done with it now, where to look next, with what a chip is touched up."""

from dataclasses import dataclass
from datetime import date, timedelta

from emplastra.shared.ical import calendar_named, event_of

from .dossier import Dossier, calendar_days, dossier_of
from .told import Told


@dataclass
class Care:
    """What an owner is told: rows of what may be done, open ones first; looks with their next day; touching up."""

    d: Dossier
    today: date
    now_s: float

    @property
    def job(self):
        """The job."""
        return self.d.job

    @property
    def now(self):
        """What may be done now."""
        return [may for may in self.d.may if may.is_open(self.now_s)]

    @property
    def later(self):
        """What may not be done yet, in order of time."""
        return [may for may in self.d.may if not may.never and not may.is_open(self.now_s)]

    @property
    def never(self):
        """What is never done."""
        return [may for may in self.d.may if may.never]

    @property
    def looks(self):
        """[(day, look, faces)] that come next, the first one first; those that nobody said he looked at stay due."""
        rows = [(look.next(self.today), look, names) for look, names in self.d.schedule]
        return sorted(rows, key=lambda row: (row[0], row[1].what))


def care_of(job, book):
    """The Care of a job."""
    d = dossier_of(job, book, ("watch", "kept"))
    here = book.facts.now.astimezone(book.facts.workshop.zone)
    return Care(d, here.date(), book.facts.now.timestamp())


def care_calendar(care, workshop):
    """The looks to come as iCalendar (RFC 5545), whole days; an entry keeps its uid for good."""
    made = calendar_named("Care", f"{care.job}: looks")
    for day, what, sign, names in calendar_days(care.d):
        if day < care.today - timedelta(days=31):
            continue
        uid, title = f"look-{care.job.pk}-{_slug(what)}-{day:%Y%m%d}", f"{care.job}: look at {_plain(what, workshop)}"
        event = event_of(uid, care.d.as_of, title, day)
        event.add("description", f"{', '.join(names)}. Its sign: {_plain(sign, workshop)}.")
        event.add("transp", "TRANSPARENT")
        made.add_component(event)
    return made.to_ical()


def _plain(text, workshop):
    said = Told(workshop)(text)
    return said[:1].lower() + said[1:]


def _slug(text):
    return "".join(c for c in text.lower() if c.isascii() and c.isalnum())[:24]
