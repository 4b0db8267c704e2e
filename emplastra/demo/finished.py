"""The demo's finished job: a crossing bell, taken to the metal in April, built up, and handed over."""

import io
from datetime import date, timedelta

import numpy as np

from emplastra.climate.services import import_log
from emplastra.core.buying.stock import Happened
from emplastra.core.piece.job_map import Cells
from emplastra.core.survey.answers import Answer
from emplastra.jobs import colours, handing, judging, photos, registers, surveying
from emplastra.jobs.models import Job
from emplastra.jobs.services import add_zone, adopt_system, file_job
from emplastra.logbook.models import Kind
from emplastra.record.selectors import records
from emplastra.shared import clock
from emplastra.store.models import Tin
from emplastra.store.services import tell

from .teller import EPOXY, SURFACER, ZONE, flat, moment
from .walk import picture
from .weather import log_of

MASTIC, RED, CLEAR = "Epoxy mastic, black", "Base coat, oxide red", "Clear coat, 2:1"
#: day of April -> the name of the day that the log tells
STRIPPED, PRIMED, SURFACED, BLOCKED, PAINTED = (f"2026-04-{day}" for day in ("13", "14", "15", "16", "17"))
FOUND = (
    ("found", "looked", "", "paint", {}, ""),
    ("found", "rust", "", "C", {}, "lower edge of the hood"),
    ("found", "blisters", "", "3", {"size": 3.0}, ""),
    ("found", "layer", "1", "oil", {}, "signal red"),
    ("found", "toxic", "", "kit", {}, "one kit, under the rim"),
    ("found", "marks", "", "marks", {}, "founder's number, cast inside the rim"),
    ("found", "sample", "", "kept", {}, "under the clapper's plate, left uncoated"),
    ("found", "joints", "", "rivets", {}, ""),
    ("found", "drain", "1", "open", {}, "at the foot of the hood"),
    ("bared", "looked", "", "bare", {}, ""),
    ("bared", "rust", "", "C", {}, ""),
    ("bared", "pits", "", "pits", {"depth": 0.2}, "along the lower edge"),
    ("bared", "thin", "", "full", {}, ""),
)
BARROW = (
    ("Bed, upper side", "P80", "same", "same", ()),
    ("Bed, under side", "P80", "same", "worse", (("rust", 1, 2, "at the lap"),)),
    ("Frame", "coarse", "same", "worse", (("chalks", 2, 0, ""),)),
    ("Wheel, left", "coarse", "same", "same", ()),
    ("Wheel, right", "coarse", "same", "same", ()),
    ("Drawbar eye", "wire wheel", "worse", "failed", (("rust", 4, 3, "under the pin"), ("flakes", 3, 3, "round it"))),
)
"""An older piece: face, what it was keyed with, how it was after two years and after four, what was seen."""
FILM = "312 325 331 320\n328 338 335 327\n309 319 306 272"
"""What the gauge read on the hood at the end [µm]."""


def make_finished(t, user, systems, places):
    """The job, its survey, its log, what was accepted, and its hand-over."""
    clock.freeze(moment(f"{STRIPPED} 06:30"))
    job = Job.objects.create(
        name="Crossing bell", owner_label="the village museum", standard="show", promised=date(2026, 4, 30)
    )
    measures = {"substrate": "steel", "form": "flat", "part": "skin"}
    hood = _zone(
        job,
        user,
        "Hood, outer",
        ("left", "round", 5, 1, 12, 8),
        thickness_mm=1.0,
        finish_class="show",
        shapes=[flat(700, 500)],
        colour_group="bell red",
        **measures,
    )
    inside = _zone(
        job,
        user,
        "Hood, inside",
        ("inside", "round", 5, 1, 12, 8),
        thickness_mm=1.0,
        finish_class="covered",
        shapes=[flat(690, 490)],
        **measures,
    )
    bracket = _zone(
        job,
        user,
        "Bracket, cast",
        ("left", "panel", 9, 9, 4, 3),
        thickness_mm=14.0,
        finish_class="show",
        shapes=[flat(400, 180)],
        substrate="cast iron",
        form="frame",
        part="casting",
    )
    plate = _zone(
        job,
        user,
        "Clapper plate",
        ("under", "panel", 8, 3, 6, 4),
        thickness_mm=3.0,
        finish_class="below",
        shapes=[flat(120, 90)],
        end_state="as-found",
        **measures,
    )
    adopt_system(hood, user, systems["Epoxy, surfacer, oxide red, clear"])
    for zone in (inside, bracket):
        adopt_system(zone, user, systems["Mastic, brushed"])
    for zone in (hood, inside, bracket, plate):
        t.tell(Kind.MOVED, zone, f"{STRIPPED} 06:40", f"{STRIPPED} 06:40", place=places["Shop"])
    air = log_of("Shop", moment(f"{STRIPPED} 00:00"), moment("2026-04-18 12:00"), ZONE)
    clock.freeze(moment("2026-04-18 12:05"))
    import_log(user, places["Shop"], "shop-week-16.csv", air.encode())
    _look(t, user, job, hood, plate)
    _mastic(t, inside, bracket)
    _hood(t, hood)
    _ends(t, user, job, hood, inside, plate)


def _zone(job, user, name, cells, **measures):
    return add_zone(job, name, user, cells=Cells(*cells), **measures)


def _look(t, user, job, hood, plate):
    clock.freeze(moment(f"{STRIPPED} 07:00"))
    for stage in ("found", "bared"):
        rows = [(topic, mark, choice, values, text) for s, topic, mark, choice, values, text in FOUND if s == stage]
        seen = "bare" if stage == "bared" else "paint"
        told = [
            (Answer(a, m, c, v, x, seen), "water-trap" if a in {"rust", "blisters", "pits"} else "")
            for a, m, c, v, x in rows
        ]
        surveying.state(hood, user, stage, told)
    surveying.state(
        plate,
        user,
        "found",
        [(Answer("looked", "", "bare", {}, "", "bare"), ""), (Answer("rust", "", "A", {}, "", "bare"), "")],
    )
    for zone, note, when, seed in (
        (hood, "as found, lower edge", "before", 11),
        (hood, "bare, pits at the edge", "during", 12),
    ):
        photos.keep(zone, user, photos.clean(picture(seed, when != "before")), when, note)
    off = registers.take_off(
        job, user, "Clapper", hood, fixings="one pin, two washers", kept_at="box 4", to_buy="leather washer"
    )
    registers.say_of_part(off, user, "refitted", "new washer, turned from a strap")
    registers.take_off(job, user, "Wire, old", hood, fixings="two clips", kept_at="box 4")


def _mastic(t, inside, bracket):
    for zone, h in ((inside, 7), (bracket, 8)):
        t.bared(zone, f"{STRIPPED} 0{h}:10", f"{STRIPPED} 0{h}:50")
        t.degreased(zone, f"{STRIPPED} 0{h}:52", f"{STRIPPED} 0{h}:58")
    pot = t.pot(inside, f"{STRIPPED} 09:05", MASTIC, 60, "brush", 0, [("base", 79.7), ("hardener-mild", 88.9)])
    for zone, minute in ((inside, 16), (bracket, 30)):
        t.coat(
            zone,
            f"{STRIPPED} 09:{minute}",
            f"{STRIPPED} 09:{minute + 9}",
            "prime",
            MASTIC,
            [126, 130],
            pot,
            method="brush",
        )
    t.ended(inside, f"{STRIPPED} 09:45", pot, 4)
    pot = t.pot(inside, f"{PRIMED} 08:05", MASTIC, 60, "brush", 0, [("base", 79.9), ("hardener-mild", 89.2)])
    for zone, minute in ((inside, 18), (bracket, 31)):
        t.coat(
            zone, f"{PRIMED} 08:{minute}", f"{PRIMED} 08:{minute + 9}", "prime", MASTIC, [124, 131], pot, method="brush"
        )
    t.ended(inside, f"{PRIMED} 08:45", pot, 3)


def _coats(t, zone, kind, product, at, ready_ml, thinner_pct, scale, coats):
    pot = t.pot(zone, at, product, ready_ml, "hvlp", thinner_pct, scale)
    for began, ended, wft in coats:
        t.coat(zone, began, ended, kind, product, wft, pot, thinner_pct=thinner_pct)
    t.ended(zone, coats[-1][1], pot, 8)


def _hood(t, hood):
    day = STRIPPED
    t.bared(hood, f"{day} 10:00", f"{day} 11:20")
    t.keyed(hood, f"{day} 11:20", f"{day} 11:50", "P80")
    t.degreased(hood, f"{day} 11:52", f"{day} 12:00")
    epoxy = [("base", 103.1), ("hardener-mild", 121.2), ("thinner", 129.0)]
    _coats(
        t,
        hood,
        "prime",
        EPOXY,
        f"{day} 12:04",
        100,
        10,
        epoxy,
        [(f"{day} 12:22", f"{day} 12:27", [76, 79]), (f"{day} 13:50", f"{day} 13:55", [75, 80])],
    )
    surfacer = [("base", 347.4), ("hardener", 392.3), ("thinner", 415.2)]
    hours = ("08:00", "08:12", "08:25", "08:38")
    rows = [(f"{PRIMED} {h}", f"{PRIMED} {h[:3]}{int(h[3:]) + 3:02d}", [113, 116]) for h in hours]
    _coats(t, hood, "surface", SURFACER, f"{PRIMED} 07:52", 290, 10, surfacer, rows)
    t.keyed(hood, f"{BLOCKED} 08:00", f"{BLOCKED} 09:10", "P400", "block", 30)
    day = PAINTED
    t.degreased(hood, f"{day} 08:30", f"{day} 08:40", 1)
    _coats(
        t,
        hood,
        "base",
        RED,
        f"{day} 08:44",
        110,
        0,
        [("base", 77.3), ("reducer", 109.0)],
        [(f"{day} 08:52", f"{day} 08:56", [72, 75]), (f"{day} 09:15", f"{day} 09:19", [73, 76])],
    )
    clear = [("base", 75.0), ("hardener", 114.0), ("thinner", 119.0)]
    _coats(
        t,
        hood,
        "clear",
        CLEAR,
        f"{day} 09:45",
        120,
        5,
        clear,
        [(f"{day} 09:55", f"{day} 09:59", [58, 62]), (f"{day} 10:22", f"{day} 10:26", [60, 61])],
    )
    t.tell(Kind.DONE, hood, "2026-04-28 13:00", "2026-04-28 14:10", t.step(hood, "polish"))
    t.gauged(hood, "2026-04-29 09:00", "2026-04-29 09:10", FILM, gauge="magnetic, no. 1")


def _ends(t, user, job, hood, inside, plate):
    """What was seen, kept and accepted at the end; then the hand-over."""
    clock.freeze(moment("2026-04-29 10:00"))
    photos.keep(hood, user, photos.clean(_painted()), "after", "finished, lights off clean")
    pits = surveying.held(hood)["bared", "pits", ""]
    surveying.say_of(pits, user, "mended", note="the foot of the hood drains again")
    surveying.say_of(pits, user, "answered", step=t.step(hood, "surface"))
    colours.tell_colour(
        job, user, "bell red", name="Oxide red", batch="R-5521", kept="paint store, shelf 2", formula="as the trolley"
    )
    registers.put_off(
        plate, user, "watched", "left as found: the founder's first paint", "the museum shows it", date(2027, 4, 29)
    )
    tin = Tin.objects.filter(product__name=RED, part="base", batch="R-5521").order_by("number").first()
    tell(tin, user, Happened.KEPT, clock.now(), "crossing bell", amount=120.0, unit="mL")
    _accepted(inside, user)
    handing.hand_over(
        job, user, handing.USUAL, "The bell hangs under the eaves, half in the rain. Its rim is where it began to rust."
    )
    file_job(job, None, Job.Filing.CLOSED)
    clock.freeze(clock.now() + timedelta(minutes=1))


def _accepted(zone, user):
    """What the rules said of a coat, taken on with a reason."""
    for line in records([zone])[0].lines:
        for verdict in line.ruled.open if line.ruled else ():
            if verdict.severity == "warns":
                judging.accept(
                    zone, user, line.ruled.ruling, verdict.key, "a white cloth stayed white; the pot was warm"
                )


def _painted():
    """A drawn stand-in for a photo of the finished hood [JPEG bytes]: red, with the light of a window in it."""
    from PIL import Image

    high, wide = 480, 640
    y, x = np.mgrid[0:high, 0:wide]
    bell = ((x - wide / 2) / 250) ** 2 + ((y - 520) / 440) ** 2 < 1
    light = np.exp(-(((x - 250) / 60) ** 2) - (((y - 260) / 130) ** 2))
    shade = 0.55 + 0.45 * np.sin(np.clip((x - 70) / 500, 0, 1) * np.pi)
    red = np.stack([150 * shade, 48 * shade, 40 * shade], axis=-1) + 170 * light[..., None]
    ground = np.full((high, wide, 3), 214.0) - 30 * (y / high)[..., None]
    out = io.BytesIO()
    Image.fromarray(np.where(bell[..., None], red, ground).clip(0, 255).astype("uint8")).save(out, "JPEG", quality=88)
    return out.getvalue()


def make_older(t, user, systems, places):
    """A barrow of five years ago, looked at again twice; archived."""
    clock.freeze(moment("2021-06-14 06:00"))
    job = Job.objects.create(name="Platform barrow", owner_label="the platform", standard="drive")
    measures = {"substrate": "steel", "thickness_mm": 4.0, "form": "frame", "finish_class": "below", "part": "other"}
    faces = []
    for n, (name, grit, *_) in enumerate(BARROW):
        clock.freeze(moment("2021-06-14 06:00"))
        zone = add_zone(
            job,
            name,
            user,
            cells=Cells("left", "panel", 2 + 4 * (n % 5), 1 + 5 * (n // 5), 4, 4),
            shapes=[flat(400, 300)],
            **measures,
        )
        adopt_system(zone, user, systems["Mastic, brushed"])
        day = f"2021-06-{15 + n}"
        t.tell(Kind.MOVED, zone, "2021-06-14 06:30", "2021-06-14 06:30", place=places["Shop"])
        t.bared(zone, f"{day} 07:00", f"{day} 07:40")
        t.tell(Kind.KEYED, zone, f"{day} 07:40", f"{day} 07:55", grit=grit, um_off=0.0)
        t.degreased(zone, f"{day} 07:56", f"{day} 08:00")
        t.coat(zone, f"{day} 08:10", f"{day} 08:20", "prime", MASTIC, [126, 130], None, "M-0017", method="brush")
        t.coat(
            zone,
            f"2021-06-{16 + n} 08:10",
            f"2021-06-{16 + n} 08:20",
            "prime",
            MASTIC,
            [124, 131],
            None,
            "M-0017",
            method="brush",
        )
        faces.append(zone)
    for year, at in ((2023, 2), (2025, 3)):
        clock.freeze(moment(f"{year}-06-20 09:00"))
        for zone, row in zip(faces, BARROW, strict=True):
            handing.look_again(zone, user, date(year, 6, 20), row[at], row[4] if row[at] != "same" else ())
    file_job(job, None, Job.Filing.ARCHIVED)
