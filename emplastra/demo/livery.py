"""The demo's last colour: a nose and two doors in three stages, a spot, a panel in sound factory paint beside them."""

from importlib import resources

import yaml

from emplastra.core.piece.job_map import Cells
from emplastra.core.surface.plan import read_steps
from emplastra.jobs import colours
from emplastra.jobs.models import Job
from emplastra.jobs.services import add_zone, adopt_system
from emplastra.logbook.models import KINDS, Kind
from emplastra.materials.services import add_systems
from emplastra.shared import clock

from .teller import EPOXY, START, SURFACER, flat, moment

GROUP = "livery red"
GROUND, MID = "Base coat, ground red", "Mid-coat, livery red"
CARD = """coats;L*;a*;b*
1;41.6;48.1;35.2
2;38.7;46.7;31.6
3;36.3;45.2;28.4
4;34.3;43.6;25.7
5;32.6;42.0;23.4
6;31.2;40.4;21.5
sample;34.7;43.9;26.2"""
"""A reading of each patch under clear, and of the colour under the maker's plate."""
FACES = (
    ("Nose panel", "laminate", 4.0, ("left", "round", 0, 2, 6, 8), flat(1020, 1000)),
    ("Door, left, outer", "steel", 1.0, ("left", "panel", 6, 1, 7, 10), flat(1000, 640)),
    ("Door, right, outer", "steel", 1.0, ("right", "panel", 10, 1, 7, 10), flat(1000, 640)),
)
GROUNDED = ("07:00", "07:20", "07:40")
MIDS = {
    "Nose panel": ("08:45", "09:00", "09:14", "09:28", "09:42"),
    "Door, left, outer": ("08:48", "09:03", "09:17"),
    "Door, right, outer": ("08:52", "09:07", "09:21", "09:35"),
}
"""When each mid-coat went on: one too many on the nose, one still to come on the left door."""


def make_livery(t, user, systems, places):
    """The job, its log, its card and what was chosen by it."""
    job = Job.objects.create(name="Buffet trolley", owner_label="the night train", standard="show")
    zones = [_face(job, user, systems, *face) for face in FACES]
    measures = {"substrate": "old film", "thickness_mm": 1.0, "form": "flat", "finish_class": "show"}
    cells = Cells("left", "panel", 13, 1, 10, 10)
    panel = add_zone(
        job, "Side panel, factory paint", user, cells=cells, part="skin", shapes=[flat(1400, 900)], **measures
    )
    blend = yaml.safe_load((resources.files(__package__) / "blend.yaml").read_text())
    adopt_system(panel, user, add_systems(blend)[0])
    for zone in (*zones, panel):
        t.tell(Kind.MOVED, zone, "Wed 07:30", "Wed 07:30", place=places["Booth"])
    for n, zone in enumerate(zones):
        _to_surfacer(t, zone, n)
    _card(job, user)
    told = {"cover": "paper", "tape": "fine", "bears_h": None, "whole": True, "what": ""}
    t.tell(Kind.MASKED, panel, "Tue 06:40", "Tue 06:52", **told)
    _colour(t, job, user, dict(zip([zone.name for zone in zones], zones, strict=True)))
    clock.freeze(START)


def _face(job, user, systems, name, substrate, mm, cells, shape):
    measures = {"substrate": substrate, "thickness_mm": mm, "form": "flat", "finish_class": "show", "shapes": [shape]}
    zone = add_zone(job, name, user, cells=Cells(*cells), part="skin", colour_group=GROUP, **measures)
    adopt_system(zone, user, systems["Livery red, three stages"])
    return zone


def _to_surfacer(t, zone, n):
    t.bared(zone, f"Thu 0{7 + n}:00", f"Thu 0{7 + n}:25")
    t.keyed(zone, f"Thu 1{n + 1}:00", f"Thu 1{n + 1}:12", "P120")
    t.degreased(zone, f"Thu 1{n + 1}:14", f"Thu 1{n + 1}:20")
    t.coat(zone, f"Thu 1{n + 1}:30", f"Thu 1{n + 1}:36", "prime", EPOXY, [76, 79], None, "E-0417", thinner_pct=10)
    for hour in ("09:00", "09:20", "09:40"):
        at = hour[:-1] + str(n)
        t.coat(
            zone, f"Fri {at}", f"Fri {at[:-1]}{n + 5}", "surface", SURFACER, [112, 116], None, "S-3310", thinner_pct=10
        )
    t.keyed(zone, f"Mon 1{n}:00", f"Mon 1{n}:30", "P600", "block", 30)


def _card(job, user):
    clock.freeze(moment("Mon 16:00"))
    card = colours.add_card(job, user, GROUP, CARD, moment("Sat 12:00").date(), 6.0, GROUND)
    told = {"name": "Livery red", "formula": "LR 31, translucent", "variant": "as of 1962, darker", "batch": "LR-0552"}
    colours.tell_colour(job, user, GROUP, kept="paint store, shelf 3", undertone=GROUND, **told)
    colours.choose(job, user, GROUP, 4, card)


def _colour(t, job, user, zones):
    for n, zone in enumerate(zones.values()):
        t.degreased(zone, f"Tue 06:{50 + n}", f"Tue 06:{52 + n}", 1)
    pot = t.pot(zones["Nose panel"], "Tue 06:56", GROUND, 620, "hvlp", 0, [("base", 446.0), ("reducer", 623.8)])
    for hour in GROUNDED:
        for n, zone in enumerate(zones.values()):
            at = f"Tue {hour[:-1]}{n * 3}"
            t.coat(zone, at, f"Tue {hour[:-1]}{n * 3 + 2}", "base", GROUND, [66, 70], pot)
    left = zones["Door, left, outer"]
    _lit(t, left, "Tue 07:55", "Tue 08:00", [["scratch", "lower hinge"]])
    finding = left.findings.get(topic="film")
    ground = next(s for s in _steps(left) if s.kind == "base")
    spot = colours.mend_spot(finding, user, ground, 2)
    t.keyed(spot, "Tue 08:02", "Tue 08:05", colours.KEY_SPOT)
    t.degreased(spot, "Tue 08:06", "Tue 08:07")
    for began, ended in (("08:09", "08:10"), ("08:22", "08:23")):
        t.coat(spot, f"Tue {began}", f"Tue {ended}", "base", GROUND, [68, 71], pot)
    t.ended(zones["Nose panel"], "Tue 08:24", pot, 40)
    _lit(t, left, "Tue 08:34", "Tue 08:38", [])
    for name in ("Nose panel", "Door, right, outer"):
        _lit(t, zones[name], "Tue 08:38", "Tue 08:41", [], "under the lip" if name == "Nose panel" else "")
    pot = t.pot(zones["Nose panel"], "Tue 08:42", MID, 560, "hvlp", 0, [("base", 366.0), ("reducer", 526.5)])
    for name, hours in MIDS.items():
        for hour in hours:
            end = f"{hour[:-1]}{int(hour[-1]) + 2}" if int(hour[-1]) < 8 else hour
            t.coat(zones[name], f"Tue {hour}", f"Tue {end}", "mid", MID, [63, 66], pot)
    t.ended(zones["Nose panel"], "Tue 09:46", pot, 80)


def _lit(t, zone, began, ended, places, unseen=""):
    data = {"places": places, "along": ["edges", "under"], "unseen": unseen}
    entry = t.tell(Kind.LIT, zone, began, ended, **KINDS[Kind.LIT].details(data, None))
    if places:
        KINDS[Kind.LIT].seen(zone, t.user, places, entry.ended)
    else:
        colours.seen_even(zone, t.user)


def _steps(zone):
    return read_steps(zone.build_ups.first().steps)
