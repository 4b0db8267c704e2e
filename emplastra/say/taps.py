"""Acts by one tap: what a button sends, and which acts a zone offers."""

from dataclasses import dataclass, field
from itertools import takewhile
from urllib.parse import urlencode

from emplastra.core.surface.checks import answerable
from emplastra.core.surface.steps import STEPS
from emplastra.jobs.models import BuildUpVersion
from emplastra.logbook.models import KINDS
from emplastra.logbook.running import usual_s, works_begun

GRAVE = frozenset({"stops", "warns"})
"""Words of a ruling under which nothing is recorded before it was looked at."""
_ASKED_FOR = {"dry-check": "kept-dry", "air-line": "air-line", "drains": "drains"}
"""Fix of a verdict -> the check that it waits for."""


def tap(do, zone_id, **told):
    """What the button of an act sends. do: a key of KINDS, or "start", "stop", "drop"; told: what its form is given."""
    return urlencode({"do": do, "zone": zone_id} | told)


def tap_of(go):
    """What a button sends instead of leading to a page that logs an act (Go), "" where that wants its form."""
    if go.name != "work:log" or not KINDS[go.args[1]].at_once:
        return ""
    return tap(go.args[1], go.args[0], **dict(go.query))


def checks_of(state):
    """Keys of the checks that a zone (its ZoneState) can answer now."""
    ruled = getattr(state, "judged", None)
    wanted = {_ASKED_FOR[v.fix] for v in ruled.open if v.fix in _ASKED_FOR} if ruled else set()
    layer = state.plan.next_layer
    return answerable(state.surface, layer.step.method if layer else "", wanted)


def start_of(state):
    """What the button sends that begins the next step of a zone, "" where that takes no time worth a tap."""
    step = state.next_step
    if step is None or not state.facts.is_free(state.surface.t_s):
        return ""
    kind = STEPS[step.kind].entry
    return tap("start", state.zone.pk, what=kind, step=step.id) if KINDS[kind].lasts else ""


def tiles_of(state):
    """[(label, what the button sends)] of acts that come before the next coat, but for the next one, and a wipe."""
    surface, zone_id = state.surface, state.zone.pk
    if not state.facts.is_free(surface.t_s) or state.facts.revision is None:
        return []
    undone = [s.step for s in state.plan.states if not s.done and not s.step.left_out]
    before = list(takewhile(lambda step: not STEPS[step.kind].leaves_film, undone))
    kinds = [(step, STEPS[step.kind]) for step in before[1:]]
    found = {kind.verb: tap(kind.entry, zone_id, step=step.id) for step, kind in kinds if KINDS[kind.entry].at_once}
    if surface.layers and "degreased" not in {STEPS[step.kind].entry for step in before}:
        found["Degrease"] = tap("degreased", zone_id)
    return list(found.items())


def together(states):
    """[(label, what the button sends)] of acts that come next on some of these zones, for all that are ticked."""
    found = {"Degrease": "do=degreased"}
    for state in states:
        kind = STEPS[state.next_step.kind] if state.next_step else None
        if kind is not None and KINDS[kind.entry].together:
            label = "Coat" if kind.leaves_film else kind.verb
            found.setdefault(label, urlencode({"do": kind.entry}))
        if kind is not None and kind.leaves_film and state.sheet and state.sheet.form == "mixed":
            found.setdefault("Mix", "do=mix")
        if state.surface.treatment is not None:
            found.setdefault("Wet again", "do=wetted")
    return list(found.items())


@dataclass
class Watch:
    """Work that was begun and is not stopped: its entry, what it is, where, since when [epoch s], how long it usually
    takes ((from, to) [min]), what its two buttons send.
    """

    entry: object
    name: str
    zones: list = field(default_factory=list)
    since_s: float = 0.0
    usual: tuple[float, float] | None = None
    stop: str = ""
    drop: str = ""

    @property
    def key(self):
        """What its end is called: what is stopped and recorded by one tap, or told on a page."""
        return "Done" if KINDS[self.entry.begun.what].at_once else "Stop"


def watches(ids=None):
    """Work that runs on these zones (None: everywhere), the oldest first."""
    found = []
    for entry in works_begun():
        rows = list(entry.places_on.all())
        if ids is not None and not ids & {row.zone_id for row in rows}:
            continue
        what = entry.begun.what
        name = _name_of(rows[0], what) if rows else KINDS[what].label
        sent = {name: urlencode({"do": name, "begun": entry.pk}) for name in ("stop", "drop")}
        zones = [row.zone for row in rows]
        usual = usual_s(what)
        usual = usual and (usual[0] / 60, usual[1] / 60)
        found.append(Watch(entry, name, zones, entry.began.timestamp(), usual, **sent))
    return found


def _name_of(row, what):
    """Work as its step of the plan is called, else as its kind of entry is."""
    plan = BuildUpVersion.objects.filter(zone=row.zone_id).order_by("-number").first() if row.step else None
    step = next((s for s in plan.steps if s.get("id") == row.step), None) if plan else None
    return STEPS[step["kind"]].name if step and step.get("kind") in STEPS else KINDS[what].label
