"""Windows: zones down, time across; by job, place and stage; and what would change if."""

from dataclasses import dataclass, field

from emplastra.say.metal import metal_of
from emplastra.say.whatif import changes, moments, state_if
from emplastra.state.lifeline import Scale, clock_changes, marks, ticks

BACK_S, AHEAD_S = 48 * 3600, 96 * 3600
SHOWN = 60
WIDTH = 745.0
METALS = 12


@dataclass
class WindowsRow:
    """A zone: its state (as it would be), shapes, and what would change on it."""

    state: object
    marks: list
    changes: list = field(default_factory=list)

    @property
    def coat(self):
        """(entry id, began [epoch s]) of the coat that can be tried at another hour, None if there is none."""
        top = self.state.surface.top
        return (top.entries[-1], top.began_s) if top and top.entries and top.entries[-1] else None

    @property
    def hours(self):
        """The two moments that matter most: (name, epoch s)."""
        found = moments(self.state) if self.state.surface.away_s is None else {}
        names = ("rinse", "dry", "primer due", "opens", "closes", "cured")
        return [(name, found[name]) for name in names if found.get(name)][:2]


def view(book, query, what_if):
    """What the page shows: rows, changes, scale, filters; states as they would be if something is asked."""
    known = [book.facts.zones[pk] for pk in book.open_ids]
    jobs = {each.zone.job_id: each.zone.job for each in known}
    places = {each.place.pk: each.place for each in known if each.place}
    shown, fitting = book.in_order(lambda each: _fits(each, book, query), None if query.get("all") else SHOWN)
    now_s = book.facts.now.timestamp()
    start = now_s // 900 * 900
    scale = Scale(start - BACK_S, start + AHEAD_S, WIDTH)
    rows = []
    for state in shown:
        supposed = state_if(state, what_if) if what_if.asks else state
        found = changes(state, supposed, book.facts) if supposed is not state else []
        rows.append(WindowsRow(supposed, marks(supposed, scale), found))
    metals = [m for m in (metal_of(row.state) for row in _by_lag(rows)) if m]
    return {
        "rows": rows,
        "more": fitting - len(shown),
        "changed": [change for row in rows for change in row.changes],
        "coats": [row for row in rows if row.coat],
        "scale": scale,
        "ticks": ticks(scale, book.facts.workshop, 12),
        "narrow_ticks": ticks(Scale(scale.start_s, scale.end_s, 330.0), book.facts.workshop, 24),
        "days": [x for x, label in ticks(scale, book.facts.workshop, 24)],
        "clock_changes": clock_changes(scale, book.facts.workshop),
        "now_x": scale.x(now_s),
        "what_if": what_if,
        "jobs": sorted(jobs.values(), key=lambda job: job.pk),
        "places": sorted(places.values(), key=lambda place: place.pk),
        "metals": metals,
    }


def _fits(each, book, query):
    """True if a zone (its facts) is of the job, place and stage asked for ("" asks for all)."""
    return (
        query.get("job", "") in {"", str(each.zone.job_id)}
        and query.get("place", "") in {"", str(each.place.pk) if each.place else "-"}
        and query.get("stage", "") in {"", book.stage_of(each)}
    )


def _by_lag(rows):
    """Rows of zones that are still to be coated, one per section and place, the slowest first."""
    found = {}
    for row in rows:
        each = row.state.facts
        if row.state.toward and each.revision and each.place:
            found.setdefault((each.place.pk, each.revision.lag_s, row.state.toward.product), row)
    return sorted(found.values(), key=lambda row: -row.state.facts.revision.lag_s)[:METALS]
