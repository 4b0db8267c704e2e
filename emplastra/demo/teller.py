"""How the demo's log is told: its week, its batches, and entries at the moment they happened."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from emplastra.core.air.heat import read_log
from emplastra.core.gauge.readings import read
from emplastra.core.level.depths import read as read_depths
from emplastra.core.level.depths import read_marks
from emplastra.logbook.models import KINDS, Kind
from emplastra.logbook.services import Told, log
from emplastra.materials.models import Product
from emplastra.materials.selectors import sheet_of
from emplastra.shared import clock
from emplastra.store.services import name_batch

ZONE = ZoneInfo("Europe/Vienna")
START = datetime(2026, 5, 12, 10, 0, tzinfo=ZONE)
"""The fixed Tuesday."""
DAYS = {
    name: START - timedelta(days=back)
    for name, back in (("Wed", 6), ("Thu", 5), ("Fri", 4), ("Sat", 3), ("Sun", 2), ("Mon", 1), ("Tue", 0))
}

EPOXY, SURFACER = "Epoxy primer, grey, 4:1", "Two-pack surfacer, light grey"
BATCHES = {
    EPOXY: {"base": "E-0417", "hardener-mild": "EH-2203", "thinner": "T-118"},
    SURFACER: {"base": "S-3310", "hardener": "SH-077", "thinner": "T-204"},
    "Epoxy mastic, black": {"base": "M-0092", "hardener-mild": "MH-0031"},
    "Base coat, oxide red": {"base": "R-5521", "reducer": "RD-12"},
    "Body filler, red hardener": {"base": "F-0210", "hardener": "FH-088"},
    "Base coat, ground red": {"base": "GR-0218", "reducer": "RD-12"},
    "Mid-coat, livery red": {"base": "LR-0552", "reducer": "RD-12"},
    "Clear coat, 2:1": {"base": "C-901", "hardener": "CH-417", "thinner": "T-330"},
}


def moment(text):
    """ "Mon 09:30" in the demo's week, or "2026-04-13 09:30", aware."""
    day, hour = text.split()
    hours, minutes = hour.split(":")
    at = DAYS[day] if day in DAYS else datetime.fromisoformat(day).replace(tzinfo=ZONE)
    return at.replace(hour=int(hours), minute=int(minutes))


def flat(length, width, count=1):
    """A flat shape [mm]."""
    return {"kind": "flat", "dims": {"length": length, "width": width}, "count": count}


class Teller:
    """Tells the log what happened, at the moment it happened."""

    def __init__(self, user):
        self.user = user

    def tell(self, kind, zone, began, ended, step="", share=1.0, note="", **details):
        """Log an entry as if one minute after it ended."""
        begin, end = moment(began), moment(ended)
        clock.freeze(end + timedelta(minutes=1))
        return log(self.user, Told(kind, begin, end, ((zone, share, step),), details, note))

    def step(self, zone, kind, nth=0):
        """Id of the nth step of a kind in a zone's plan."""
        return [s["id"] for s in zone.build_ups.first().steps if s["kind"] == kind][nth]

    def bared(self, zone, began, ended):
        """Stripped."""
        return self.tell(Kind.BARED, zone, began, ended, self.step(zone, "strip"))

    def keyed(self, zone, began, ended, grit, kind="abrade", um_off=0.0):
        """Abraded, by the plan."""
        return self.tell(Kind.KEYED, zone, began, ended, self.step(zone, kind), grit=grit, um_off=um_off)

    def degreased(self, zone, began, ended, nth=0):
        """Wiped."""
        wipe = Product.objects.get(name="Panel wipe, slow")
        return self.tell(Kind.DEGREASED, zone, began, ended, self.step(zone, "degrease", nth), product=wipe)

    def gauged(self, zone, began, ended, readings, **more):
        """Film by gauge, rows as they are typed."""
        told = {"readings": readings, "unit": "um", "per_spot": "1", "zero_um": 0.0, "profile": "", "over": "metal"}
        told |= {"gauge": "", "old": False, "pull": "", "found": read(readings, "um")} | more
        return self.tell(Kind.GAUGED, zone, began, ended, **KINDS[Kind.GAUGED].details(told, None))

    def levelled(self, zone, began, ended, depths, after, shows=""):
        """Depths by straightedge, rows as they are typed."""
        told = {"depths": depths, "unit": "mm", "after": after, "edge_mm": 600.0, "sure": False, "shows": shows}
        details = KINDS[Kind.LEVELLED].details(
            told | {"found": read_depths(depths), "marked": read_marks(depths)}, None
        )
        return self.tell(Kind.LEVELLED, zone, began, ended, **details)

    def heated(self, zone, began, ended, log, **told):
        """Metal by minutes, lines as they are typed; told: what warmed it, and the schedule."""
        data = {"log": log, "unit": "C", "device": "", "estimated": False, "found": read_log(log)} | told
        data = dict.fromkeys(KINDS[Kind.HEATED].lamp) | data
        return self.tell(Kind.HEATED, zone, began, ended, **KINDS[Kind.HEATED].details(data, None))

    def pot(self, zone, at, product, ready_ml, method, thinner_pct, scale):
        """A pot begun and weighed; scale: (part, shown g) in pouring order."""
        revision = Product.objects.get(name=product).revisions.first()
        variant = sheet_of(revision).variants[-1].key
        details = {
            "revision": revision,
            "variant": variant,
            "method": method,
            "thinner_pct": thinner_pct,
            "ready_ml": ready_ml,
            "temp_c": 17.4,
        }
        entry = self.tell(Kind.POT, zone, at, at, **details)
        for part, grams in scale:
            tin = name_batch(revision.product, part, BATCHES[product][part], None, ZONE)
            self.tell(Kind.WEIGHED, zone, at, at, pot=entry, part=part, scale_g=grams, tin=tin)
        return entry

    def coat(
        self,
        zone,
        began,
        ended,
        kind,
        product,
        wft=(),
        pot=None,
        batch="",
        method="hvlp",
        thinner_pct=0.0,
        nth=0,
        **more,
    ):
        """A coat of the plan's nth step of a kind."""
        found = Product.objects.get(name=product)
        revision = found.revisions.first()
        sheet = sheet_of(revision)
        step = [s for s in zone.build_ups.first().steps if s["kind"] == kind][nth]
        tin = name_batch(found, sheet.components[0].key, batch, None, ZONE) if batch else None
        details = {
            "product": found,
            "revision": revision,
            "pot": pot,
            "tin": tin,
            "variant": sheet.variants[-1].key if sheet.variants else "",
            "method": method,
            "thinner_pct": thinner_pct,
            "wft_um": list(wft),
            "plan_um": step["dft_um"],
        }
        return self.tell(Kind.COAT, zone, began, ended, step["id"], **details, **more)

    def ended(self, zone, at, pot, waste_ml=0.0):
        """The pot is empty."""
        return self.tell(Kind.POT_ENDED, zone, at, at, pot=pot, waste_ml=waste_ml)
