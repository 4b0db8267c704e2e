"""The demo workshop: a light-railway inspection trolley and two more jobs, on a fixed Tuesday."""

from datetime import timedelta
from importlib import resources

import yaml

from emplastra.accounts.models import Role, User, Workshop
from emplastra.climate.models import Place
from emplastra.climate.services import import_forecast, import_log
from emplastra.core.piece.job_map import Cells
from emplastra.jobs.judging import choose_school
from emplastra.jobs.models import Job
from emplastra.jobs.services import add_zone, adopt_system
from emplastra.logbook.models import Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet, add_systems, check_library, store_library, take_ready
from emplastra.shared import clock

from .finished import make_finished, make_older
from .livery import make_livery
from .shelf import fill_shelf
from .teller import DAYS, EPOXY, START, SURFACER, ZONE, Teller, flat, moment
from .walk import walk_round
from .weather import forecast_of, log_of

PASSWORD = "masking-paper"
DRAWN = {
    "Cab side, left, outer": ("skin", ("left", "arch", 6, 1, 17, 9)),
    "Cab side, right, outer": ("skin", ("right", "arch", 1, 1, 17, 9)),
    "Frame, right, inside": ("box", ("inside", "panel", 1, 2, 22, 3)),
    "Frame, left, inside": ("box", ("inside", "panel", 1, 6, 22, 3)),
    "Brake yoke": ("casting", ("under", "panel", 8, 2, 9, 4)),
    "Axle box, rear": ("casting", ("under", "panel", 16, 7, 7, 4)),
    "Roof, aluminium, outer": ("skin", ("top", "panel", 5, 2, 18, 8)),
    "Nose, glass-fibre": ("other", ("left", "wedge", 0, 3, 6, 7)),
    "Locker door, outer": ("door", ("left", "panel", 3, 1, 14, 10)),
    "Locker lid, outer": ("door", ("top", "panel", 3, 2, 14, 8)),
    "Locker side, left, outer": ("door", ("right", "panel", 6, 1, 8, 10)),
    "Locker back, lower lip": ("lip", ("inside", "panel", 3, 8, 14, 2)),
    "Lamp housing, outer": ("casting", ("left", "round", 4, 1, 12, 10)),
    "Lamp bracket": ("tube", ("left", "panel", 17, 5, 6, 3)),
}
"""Form of part of each zone, and where it is drawn."""


def load_materials():
    """The demo's sheets and systems, from their files."""
    for path in sorted((resources.files(__package__) / "sheets").iterdir(), key=lambda p: p.name):
        if path.name.endswith(".yaml"):
            add_sheet(yaml.safe_load(path.read_text()))
    library = yaml.safe_load((resources.files(__package__) / "library.yaml").read_text())
    store_library(check_library(library))
    systems = yaml.safe_load((resources.files(__package__) / "systems.yaml").read_text())
    made = {version.system.name: version for version in add_systems(systems)}
    take_ready(None)
    return made


def load():
    """Make the demo workshop; the clock ends on the fixed Tuesday 10:00."""
    clock.freeze(moment("Wed 07:00"))
    Workshop.objects.update_or_create(
        pk=1,
        defaults={
            "name": "Railside workshop",
            "time_zone": "Europe/Vienna",
            "units": "metric",
            "latitude": 48.2,
            "longitude": 16.4,
            "open_hours": "Mon–Fri 7:00–17:00, Sat 8:00–12:00",
        },
    )
    for name, role in (("owner", Role.OWNER), ("bench", Role.REFINISHER), ("viewer", Role.VIEWER)):
        User.objects.create_user(name, password=PASSWORD, role=role)
    user = User.objects.get(username="bench")
    places = {
        name: Place.objects.create(name=name, kind=kind)
        for name, kind in (("Shop", "shop"), ("Booth", "booth"), ("Yard", "yard"), ("Trailer", "transit"))
    }
    systems = load_materials()
    fill_shelf(user, places["Shop"], moment("Wed 06:30"))
    choose_school("solder", "stays")
    choose_school("converter", "waits")
    zones = _zones(user, systems)
    teller = Teller(user)
    for zone in zones.values():
        teller.tell(Kind.MOVED, zone, "Wed 07:30", "Wed 07:30", place=places["Shop"])
    _trolley(teller, zones, places)
    _others(teller, zones, places)
    _treated(teller, zones)
    walk_round(user, zones)
    make_livery(teller, user, systems, places)
    make_finished(teller, user, systems, places)
    make_older(teller, user, systems, places)
    for name in ("Shop", "Booth", "Yard"):
        for day in DAYS:
            issued = moment(f"{day} 06:00")
            clock.freeze(issued)
            data = forecast_of(name, issued, ZONE).encode()
            import_forecast(user, [places[name]], f"hourly-{issued:%d}-{name.lower()}.csv", data)
    clock.freeze(START - timedelta(minutes=3))
    for name in ("Shop", "Booth", "Yard"):
        place = places[name]
        import_log(
            user,
            place,
            f"{name.lower()}-week-20.csv",
            log_of(name, moment("Wed 00:00"), START - timedelta(minutes=4), ZONE).encode(),
        )
    clock.freeze(START)


def _zones(user, systems):
    trolley = Job.objects.create(
        name="Inspection trolley",
        owner_label="the light railway",
        standard="factory",
        film_by="iso19840",
        promised=START.date() + timedelta(days=60),
    )
    locker = Job.objects.create(name="Tool locker", owner_label="the platform", standard="drive")
    lamp = Job.objects.create(name="Signal lamp housing", owner_label="the signal box", standard="show")
    names = (
        "Epoxy, surfacer, oxide red, clear",
        "Mastic, brushed",
        "Spot from cans",
        "Converted frame",
        "Treated frame, mastic",
        "Powder coat, out",
        "Epoxy, filler, surfacer",
    )
    full, mastic, cans, converted, treated, powder, filled = (systems[n] for n in names)
    rows = [
        (trolley, "Cab side, left, outer", full, "steel", 1.2, "flat", "show", [flat(1800, 1150), flat(600, 400)]),
        (trolley, "Cab side, right, outer", full, "steel", 1.2, "flat", "show", [flat(1800, 1150), flat(600, 400)]),
        (
            trolley,
            "Frame, right, inside",
            mastic,
            "steel",
            6,
            "frame",
            "below",
            [{"kind": "box", "dims": {"length": 2400, "width": 60, "height": 100}, "count": 1}, flat(400, 200, 3)],
        ),
        (
            trolley,
            "Frame, left, inside",
            treated,
            "steel",
            6,
            "frame",
            "below",
            [{"kind": "box", "dims": {"length": 2400, "width": 60, "height": 100}, "count": 1}, flat(400, 200, 3)],
        ),
        (
            trolley,
            "Brake yoke",
            powder,
            "steel",
            14,
            "frame",
            "below",
            [{"kind": "box", "dims": {"length": 420, "width": 60, "height": 80}, "count": 2}],
        ),
        (
            trolley,
            "Axle box, rear",
            mastic,
            "cast iron",
            18,
            "frame",
            "below",
            [{"kind": "box", "dims": {"length": 320, "width": 240, "height": 260}, "count": 1}],
        ),
        (
            trolley,
            "Roof, aluminium, outer",
            full,
            "aluminium",
            2,
            "flat",
            "show",
            [{"kind": "dome", "dims": {"radius": 3000, "height": 110}, "count": 1}],
        ),
        (
            trolley,
            "Nose, glass-fibre",
            full,
            "laminate",
            4,
            "flat",
            "show",
            [{"kind": "cone", "dims": {"d1": 900, "d2": 500, "height": 420}, "count": 1}],
        ),
        (locker, "Locker door, outer", mastic, "steel", 0.9, "flat", "open", [flat(900, 550)]),
        (locker, "Locker lid, outer", filled, "steel", 0.9, "flat", "show", [flat(900, 500)]),
        (locker, "Locker side, left, outer", filled, "steel", 0.9, "flat", "show", [flat(500, 1100)]),
        (locker, "Locker back, lower lip", cans, "steel", 0.9, "flat", "covered", [flat(900, 80)]),
        (
            lamp,
            "Lamp housing, outer",
            converted,
            "cast iron",
            5,
            "tube",
            "show",
            [{"kind": "tube", "dims": {"diameter": 220, "length": 380}, "count": 1}],
        ),
        (
            lamp,
            "Lamp bracket",
            full,
            "steel",
            4,
            "tube",
            "show",
            [{"kind": "bend", "dims": {"radius": 150, "diameter": 34, "angle": 90}, "count": 2}],
        ),
    ]
    found = {}
    for job, name, system, substrate, mm, form, finish, shapes in rows:
        part, cells = DRAWN[name]
        zone = add_zone(
            job,
            name,
            user,
            cells=Cells(*cells),
            part=part,
            substrate=substrate,
            thickness_mm=mm,
            form=form,
            finish_class=finish,
            shapes=shapes,
            colour_group="cab" if name.startswith("Cab side") else "",
        )
        adopt_system(zone, user, system)
        found[name] = zone
    chip = {
        "substrate": "aluminium",
        "thickness_mm": 2,
        "form": "flat",
        "finish_class": "show",
        "shapes": [flat(90, 60)],
    }
    spot = add_zone(trolley, "Roof, chip at the vent", user, parent=found["Roof, aluminium, outer"], **chip)
    adopt_system(spot, user, cans)
    found[spot.name] = spot
    return found


def _trolley(t, zones, places):
    left, right = zones["Cab side, left, outer"], zones["Cab side, right, outer"]
    t.bared(left, "Mon 07:00", "Mon 08:10")
    t.keyed(left, "Mon 08:10", "Mon 08:40", "P80")
    t.degreased(left, "Mon 08:45", "Mon 08:55")
    pot = t.pot(
        left, "Mon 08:58", EPOXY, 300, "hvlp", 10, [("base", 309.4), ("hardener-mild", 363.6), ("thinner", 387.1)]
    )
    t.coat(left, "Mon 09:30", "Mon 09:44", "prime", EPOXY, [72, 78, 75, 80], pot, thinner_pct=10, surface_c=17.0)
    t.ended(left, "Mon 10:05", pot, 20)
    t.bared(right, "Tue 07:40", "Tue 08:50")
    t.keyed(right, "Tue 08:50", "Tue 09:25", "P80")
    frame = zones["Frame, right, inside"]
    t.bared(frame, "Mon 11:00", "Mon 13:30")
    t.degreased(frame, "Mon 13:35", "Mon 13:50")
    pot = t.pot(frame, "Mon 14:05", "Epoxy mastic, black", 140, "brush", 0, [("base", 186.0), ("hardener-mild", 207.5)])
    t.coat(frame, "Mon 14:20", "Mon 15:05", "prime", "Epoxy mastic, black", [120, 135, 128], pot, method="brush")
    t.ended(frame, "Mon 15:10", pot, 5)
    box = zones["Axle box, rear"]
    t.tell(Kind.MOVED, box, "Mon 18:00", "Mon 18:00", place=places["Yard"])
    t.bared(box, "Tue 06:10", "Tue 07:20")
    t.tell(Kind.MOVED, box, "Tue 08:40", "Tue 08:40", place=places["Shop"])
    _roof_and_nose(t, zones, places)


def _finish(t, zone, product, kind, at, ready_ml, thinner_pct, scale, coats, waste=10):
    """One pot and the coats put on from it: coats are (began, ended, readings)."""
    pot = t.pot(zone, at, product, ready_ml, "hvlp", thinner_pct, scale)
    for began, ended, wft in coats:
        t.coat(zone, began, ended, kind, product, wft, pot, thinner_pct=thinner_pct)
    t.ended(zone, coats[-1][1], pot, waste)


DOOR_FOUND = """0 0 0 +0.10 0 0 0 0 0 0 0 0
0 -0.30 -0.40 0 0 0 0 +0.20 +0.30 0 0 0
0 -0.50 -0.90 -0.30 0 0 0 +0.45 +0.60 0 0 0
0 -0.20 -0.50 -0.20 0 0 0 0 +0.20 0 -0.25 0
0 0 0 0 0 -0.20 0 0 0 -0.40 -1.20 -0.30
0 0 0 0 -0.25 -0.60 -0.30 0 0 -0.20 -0.80 -0.20
0 0 0 0 0 -0.20 0 0 0 0 0 0"""
DOOR_STRUCK = """0 0 0 +0.10 0 0 0 0 0 0 0 0
0 -0.25 -0.35 0 0 0 0 0 +0.05 0 0 0
0 -0.45 -0.85 -0.30 0 0 0 +0.05 +0.10 0 0 0
0 -0.20 -0.45 -0.20 0 0 0 0 0 0 -0.20 0
0 0 0 0 0 -0.20 0 0 0 -0.35 -1.10 -0.30
0 0 0 0 -0.25 -0.60 -0.30 0 0 -0.20 -0.75 -0.20
0 0 0 0 0 -0.20 0 0 0 0 0 0"""
"""How far the door stands from flat [mm], as found and once its high was struck."""
LID_STRUCK = """0 0 0 0 0 0 0 0 0
0 -0.6 -1.4 -0.7 0 0 0 0 0
0 -0.9 -2.6 -1.2 0 0 -0.4 -0.7 0
0 -0.4 -1.1 -0.5 0 0 -0.5 -0.9 -0.2
0 0 0 0 0 0 0 0 0"""
LID_ONCE = """0 0 0 0 0 0 0 0 0
0 +0.2 -0.2 +0.3 0 0 0 0 0
0 +0.3 -0.7 +0.1 0 0 +0.3 +0.4 0
0 +0.2 -0.1 +0.3 0 0 +0.3 +0.3 0
0 0 0 0 0 0 0 0 0"""
LID_TWICE = LID_ONCE.replace("-0.7", "+0.5").replace("-0.2", "+0.4").replace("-0.1", "+0.4")
LID_BLOCKED = """0 0 0 0 0 0 0 0 0
0 +0.1 +0.2 +0.1 0 0 0 0 0
0 +0.1 +0.3 +0.2 0 0 0 +0.1 0
0 0 +0.1 0 0 0 0 +0.1 0
0 0 0 0 0 0 0 0 0"""
"""The lid: its high struck, filled once and again, and blocked so far [mm]."""
SIDE_MARKED = "x %, y %, depth\n30, 20, low\n66, 35, high\n42, 60, low\n70, 82, low"
"""Lows and highs of the side as they were marked by eye and hand."""
FILLER = "Body filler, red hardener"
NOSE_WARMED = "0 21\n5 24\n10 27\n15 44\n20 58\n25 63\n35 64\n45 62\n52 61\n56 52\n60 41"
"""The nose under the lamp: minutes and metal [°C]."""
ROOF_PRIMED = "70 74 71 76\n75 78 74 72\n73 71 68 66"
ROOF_NOW = """204 226 238 235 243 231
221 236 248 245 252 239
229 243 256 254 249 235
224 239 246 238 203 222
216 227 206 194 154 163"""
"""What the gauge read on the roof [µm], a row a line."""


def _roof_and_nose(t, zones, places):
    roof, nose = zones["Roof, aluminium, outer"], zones["Nose, glass-fibre"]
    for zone, day in ((roof, "Fri"), (nose, "Wed")):
        t.bared(zone, f"{day} 07:45", f"{day} 08:20")
        t.keyed(zone, f"{day} 08:20", f"{day} 08:40", "P80")
        t.degreased(zone, f"{day} 08:42", f"{day} 08:50")
    epoxy = [("base", 660.0), ("hardener-mild", 773.9), ("thinner", 824.6)]
    _finish(
        t,
        roof,
        EPOXY,
        "prime",
        "Fri 08:55",
        640,
        10,
        epoxy,
        [("Fri 09:20", "Fri 09:35", [75, 80]), ("Fri 10:55", "Fri 11:10", [76, 82])],
    )
    t.gauged(roof, "Sat 09:10", "Sat 09:20", ROOF_PRIMED, gauge="eddy current, no. 2")
    surfacer = [("base", 1150.0), ("hardener", 1298.5), ("thinner", 1374.5)]
    coats = [
        ("Mon 15:30", "Mon 15:38", [110, 115]),
        ("Mon 15:48", "Mon 15:55", [112, 118]),
        ("Mon 16:05", "Mon 16:11", [114, 116]),
    ]
    _finish(t, roof, SURFACER, "surface", "Mon 15:26", 960, 10, surfacer, coats)
    epoxy = [("base", 330.0), ("hardener-mild", 387.0), ("thinner", 412.4)]
    _finish(
        t,
        nose,
        EPOXY,
        "prime",
        "Wed 08:52",
        320,
        10,
        epoxy,
        [("Wed 09:20", "Wed 09:30", [75, 79]), ("Wed 10:45", "Wed 10:55", [77, 80])],
    )
    surfacer = [("base", 520.0), ("hardener", 587.2), ("thinner", 621.5)]
    coats = [
        ("Wed 16:00", "Wed 16:06", [113, 117]),
        ("Wed 16:17", "Wed 16:23", [112, 116]),
        ("Wed 16:34", "Wed 16:40", [115, 119]),
    ]
    _finish(t, nose, SURFACER, "surface", "Wed 15:52", 430, 10, surfacer, coats)
    lamp = {"how": "lamp", "metal_c": 60.0, "minutes": 30.0, "flash_min": 10.0, "device": "Three tubes"}
    lamp |= {"distance_mm": 700.0, "field_w_mm": 800.0, "field_h_mm": 600.0}
    t.heated(nose, "Wed 16:45", "Wed 17:45", NOSE_WARMED, **lamp)
    t.keyed(nose, "Thu 08:00", "Thu 09:10", "P400", "block", 30)
    t.tell(Kind.MOVED, nose, "Thu 09:20", "Thu 09:20", place=places["Booth"])
    t.degreased(nose, "Thu 09:30", "Thu 09:40", 1)
    red = [("base", 260.0), ("reducer", 366.5)]
    _finish(
        t,
        nose,
        "Base coat, oxide red",
        "base",
        "Thu 09:45",
        370,
        0,
        red,
        [("Thu 09:55", "Thu 10:02", [72, 75]), ("Thu 10:20", "Thu 10:28", [74, 76])],
    )
    clear = [("base", 250.0), ("hardener", 380.0), ("thinner", 396.5)]
    _finish(
        t,
        nose,
        "Clear coat, 2:1",
        "clear",
        "Thu 10:50",
        400,
        5,
        clear,
        [("Thu 11:00", "Thu 11:08", [58, 62]), ("Thu 11:25", "Thu 11:34", [60, 61])],
    )
    t.tell(Kind.MOVED, nose, "Fri 08:00", "Fri 08:00", place=places["Shop"])


def _treated(t, zones):
    """A frame that stands wet at ten o'clock, a yoke that is away, a roof with a bare spot, a check."""
    frame, yoke, roof = zones["Frame, left, inside"], zones["Brake yoke"], zones["Roof, aluminium, outer"]
    t.tell(Kind.CHECKED, roof, "Mon 19:30", "Mon 19:30", check_kind="tack", passed=True)
    t.tell(Kind.CHECKED, roof, "Tue 07:10", "Tue 07:10", check_kind="air-line", passed=True)
    t.bared(yoke, "Thu 13:00", "Thu 15:00")
    looked_after = dict.fromkeys(("welds", "burrs", "marks", "mask", "photos"), True)
    away = {
        "contractor": "The powder shop",
        "trade": "powder",
        "work": "blast and powder, black",
        "due": START.date() + timedelta(days=1),
        "send_off": looked_after,
        "condition": "bushes still in, one burr at the pin bore",
    }
    t.tell(Kind.AWAY, yoke, "Fri 07:40", "Fri 07:40", t.step(yoke, "contractor"), **away)
    t.bared(frame, "Tue 07:00", "Tue 08:30")
    t.tell(Kind.DONE, frame, "Tue 08:35", "Tue 09:05", t.step(frame, "clean"))
    prep = Product.objects.get(name="Metal prep, acid")
    at = t.step(frame, "acid-prep")
    on = t.tell(Kind.PREPPED, frame, "Tue 09:34", "Tue 09:38", at, product=prep, revision=prep.revisions.first())
    for hour in ("09:43", "09:48", "09:53", "09:57"):
        t.tell(Kind.WETTED, frame, f"Tue {hour}", f"Tue {hour}", prep=on)
    t.gauged(roof, "Tue 07:14", "Tue 07:31", ROOF_NOW, gauge="eddy current, no. 2")
    door = zones["Locker door, outer"]
    t.levelled(door, "Mon 16:20", "Mon 16:45", DOOR_FOUND, "found")
    t.levelled(door, "Tue 08:40", "Tue 09:05", DOOR_STRUCK, "highs")
    spot = zones["Roof, chip at the vent"]
    t.bared(spot, "Tue 08:20", "Tue 08:30")


def _others(t, zones, places):
    door, lip = zones["Locker door, outer"], zones["Locker back, lower lip"]
    t.bared(door, "Sat 13:00", "Sat 15:00")
    t.degreased(door, "Sat 15:05", "Sat 15:15")
    pot = t.pot(door, "Sat 15:20", "Epoxy mastic, black", 90, "brush", 0, [("base", 119.6), ("hardener-mild", 133.6)])
    t.coat(door, "Sat 15:45", "Sat 16:00", "prime", "Epoxy mastic, black", [125, 130], pot, method="brush")
    t.ended(door, "Sat 16:05", pot, 12)
    _levelled(t, zones)
    t.bared(lip, "Mon 16:40", "Mon 17:00")
    t.degreased(lip, "Mon 17:02", "Mon 17:06")
    t.coat(lip, "Mon 17:15", "Mon 17:18", "prime", "Wash primer, can", (), None, "W-118", method="aerosol")
    housing, bracket = zones["Lamp housing, outer"], zones["Lamp bracket"]
    t.bared(housing, "Tue 07:00", "Tue 07:50")
    t.coat(housing, "Tue 08:05", "Tue 08:20", "convert", "Rust converter, brushed", (), None, "V-077", method="brush")
    t.tell(Kind.MOVED, bracket, "Fri 09:00", "Fri 09:00", place=places["Booth"])
    ready = dict.fromkeys(("welds", "holes", "marks", "heat", "brace", "photos"), True)
    away = {
        "contractor": "The dip works",
        "trade": "dip",
        "work": "acid dip, lead out",
        "due": START.date(),
        "send_off": ready,
        "condition": "one dent at the foot",
    }
    gone = t.tell(Kind.AWAY, bracket, "Fri 10:00", "Fri 10:00", **away)
    back = {
        "came": "temporary",
        "primer": "wash primer, theirs",
        "condition": "second dent, from storage",
        "rework": "dent at the foot, pressed in storage",
    }
    t.tell(Kind.BACK, bracket, "Mon 16:00", "Mon 16:00", away=gone, **back)


def _levelled(t, zones):
    """A lid in its second round of filler, blocked until one of its marks shows; a side that was marked by eye."""
    lid, side = zones["Locker lid, outer"], zones["Locker side, left, outer"]
    epoxy = [("base", 165.0), ("hardener-mild", 193.5), ("thinner", 206.2)]
    coats = [("Sat 10:40", "Sat 10:46", [75, 78]), ("Sat 12:00", "Sat 12:06", [76, 80])]
    for zone, hour in ((lid, 8), (side, 9)):
        t.bared(zone, f"Sat 0{hour}:00", f"Sat 0{hour}:35")
        t.keyed(zone, f"Sat 0{hour}:35", f"Sat 0{hour}:50", "P80")
    for zone in (lid, side):
        t.degreased(zone, "Sat 10:00", "Sat 10:05")
    _finish(t, lid, EPOXY, "prime", "Sat 10:10", 160, 10, epoxy, coats)
    later = [("Sat 10:50", "Sat 10:56", [75, 78]), ("Sat 12:10", "Sat 12:16", [76, 80])]
    _finish(t, side, EPOXY, "prime", "Sat 10:12", 160, 10, epoxy, later)
    t.keyed(lid, "Mon 08:00", "Mon 08:20", "P80")
    t.levelled(lid, "Mon 08:30", "Mon 08:50", LID_STRUCK, "highs")
    for began, ended, paste, depths, measured in (
        ("Mon 09:20", "Mon 09:26", 246.0, LID_ONCE, ("Mon 10:30", "Mon 10:45")),
        ("Mon 11:05", "Mon 11:10", 98.0, LID_TWICE, ("Mon 13:10", "Mon 13:25")),
    ):
        hardened = round(1.02 * paste, 1)
        pot = t.pot(lid, began, FILLER, round(hardened / 1.83), "brush", 0, [("base", paste), ("hardener", hardened)])
        t.coat(lid, began, ended, "fill", FILLER, (), pot, method="brush")
        t.ended(lid, ended, pot, 4)
        t.levelled(lid, *measured, depths, "filled")
    t.keyed(lid, "Mon 13:30", "Mon 14:05", "P80", "block", 300)
    t.levelled(lid, "Mon 14:10", "Mon 14:20", LID_BLOCKED, "blocked", "B")
    t.levelled(side, "Tue 09:10", "Tue 09:20", SIDE_MARKED, "found")
