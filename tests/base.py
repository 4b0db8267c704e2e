"""What web and browser tests share: a small workshop whose figures each test states itself."""

import re
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from django.db import connections
from django.test import TestCase, TransactionTestCase

from emplastra.accounts.models import Role, User, Workshop
from emplastra.climate.models import Place
from emplastra.climate.services import import_log
from emplastra.core.surface.integral import crossing
from emplastra.jobs.models import Job
from emplastra.jobs.services import add_zone, save_build_up
from emplastra.logbook.models import Kind
from emplastra.logbook.services import Told, log
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from emplastra.shared import clock, tasks
from emplastra.shared.appendonly import drop_triggers
from emplastra.shared.models import Task
from emplastra.state import whole
from emplastra.state.facts import load
from emplastra.state.selectors import state_of

ZONE = ZoneInfo("Europe/Vienna")
NOON = datetime(2026, 5, 12, 12, 0, tzinfo=ZONE)
PASSWORD = "long-enough-9"
H = timedelta(hours=1)

#: Constant times at every temperature, so that each expected hour is plain arithmetic.
PRIMER = {
    "format": "emplastra-sheet/1", "product": "Test primer", "kind": "epoxy-primer", "form": "mixed", "source": "this test", "date": "2026-01-01",
    "components": [
        {"key": "base", "name": "Base", "role": "base", "density_g_ml": 1.5, "solids_pct": 50},
        {"key": "hardener", "name": "Hardener", "role": "hardener", "density_g_ml": 1.0, "solids_pct": 50},
        {"key": "thinner", "name": "Thinner", "role": "thinner", "density_g_ml": 0.8},
    ],
    "variants": [
        {"key": "cold", "name": "cold hardener", "by": "volume", "parts": {"base": 3, "hardener": 1}, "temp_c": [5, 15]},
        {"key": "mild", "name": "hardener", "by": "volume", "parts": {"base": 4, "hardener": 1}, "temp_c": [15, 30]},
    ],
    "tolerance_pct": 5, "thinner": {"component": "thinner", "pct": {"brush": 0, "hvlp": 10}},
    "induction": [[0, 15], [40, 15]], "pot_life": [[0, 120], [40, 120]],
    "film": {"min_um": 40, "typical_um": 50, "max_um": 60, "coats": 2, "sag_wft_um": 150}, "methods": ["brush", "hvlp"],
    "times": {"flash": [[0, 20], [40, 20]], "cure": [[0, 6000], [40, 6000]]},
    "windows": [{"next": "self", "opens": [[0, 120], [40, 120]], "closes": [[0, 1440], [40, 1440]], "remedy": {"grit": "P240"}}],
    "limits": {"air_c": [10, 30], "surface_c": [10, 35], "rh_pct": [None, 80], "spread_k": 3},
    "hazards": ["sensitiser"],
}  # fmt: skip
CAN = {
    "format": "emplastra-sheet/1", "product": "Test can", "kind": "wash-primer", "form": "aerosol", "source": "this test", "date": "2026-01-01",
    "components": [{"key": "can", "name": "Can", "role": "ready", "density_g_ml": 0.8, "solids_pct": 10}],
    "film": {"min_um": 5, "typical_um": 10, "max_um": 20, "coats": 1},
    "windows": [{"next": "any", "opens": [[20, 30]], "closes": None}],
}  # fmt: skip
SQUARE = [{"kind": "flat", "dims": {"length": 1000, "width": 1000}, "count": 1}]


class Shop:
    """A workshop with two owners' roles, one place with measured air at 20 °C 50 %, one zone of 1 m²."""

    def build(self, air_c=20.0, rh=50.0):
        drop_caches()
        clock.freeze(NOON - 3 * 24 * H)
        self.workshop = Workshop.objects.create(name="Test shop", time_zone="Europe/Vienna")
        roles = (("owner", Role.OWNER), ("bench", Role.REFINISHER), ("mate", Role.REFINISHER), ("viewer", Role.VIEWER))
        self.people = {name: User.objects.create_user(name, password=PASSWORD, role=role) for name, role in roles}
        self.user = self.people["bench"]
        self.place = Place.objects.create(name="Shop")
        for sheet in (PRIMER, CAN):
            add_sheet(sheet)
        self.primer = Product.objects.get(name="Test primer")
        self.job = Job.objects.create(name="Trolley")
        self.zone = self.make_zone("Cab side")
        log(self.user, Told(Kind.MOVED, clock.now(), clock.now(), ((self.zone, 1.0, ""),), {"place": self.place}))
        clock.freeze(NOON)
        # Values that never moved for a day would be a stuck sensor; 1/1000 % is below every figure shown.
        lines = "\n".join(f"{(NOON - k * H / 2).isoformat()},{air_c},{rh + k % 2 / 1000}" for k in range(144, -1, -1))
        import_log(self.user, self.place, "log.csv", f"time,air_c,rh_pct\n{lines}\n".encode())
        return self

    def make_zone(self, name, job=None):
        """A steel zone of 1 m² with the plan strip, degrease, prime twice by brush at 50 µm."""
        measures = {"substrate": "steel", "thickness_mm": 1.0, "form": "flat", "finish_class": "show", "shapes": SQUARE}
        zone = add_zone(job or self.job, name, self.user, **measures)
        steps = [
            {"kind": "strip", "id": "s-strip"},
            {"kind": "degrease", "id": "s-wipe"},
            {"kind": "prime", "id": "s-prime", "product": "Test primer", "coats": 2, "dft_um": 50, "method": "brush"},
        ]
        save_build_up(zone, self.user, steps, 0)
        return zone

    def tell(self, kind, began, ended=None, step="", share=1.0, zone=None, user=None, **details):
        """Log an entry `began`..`ended` hours from now (negative: back), as if told when it ended."""
        now = clock.now()
        a, b = now + began * H, now + (began if ended is None else ended) * H
        clock.freeze(max(b, min(now, b + H / 60)))
        try:
            return log(user or self.user, Told(kind, a, b, ((zone or self.zone, share, step),), details), True)
        finally:
            clock.freeze(now)

    def coat(self, began, ended, share=1.0, **details):
        """A coat of the test primer on the plan's step."""
        fields = {
            "product": self.primer,
            "revision": self.primer.revisions.first(),
            "variant": "mild",
            "method": "brush",
            "plan_um": 50.0,
        }
        return self.tell(Kind.COAT, began, ended, "s-prime", share, **(fields | details))


def drop_caches():
    """Forget what is kept in memory: a test's rollback gives old ids to new rows."""
    whole.forget()


def text_of(answer):
    """A page as words."""
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode()))


class InShop:
    """The small workshop, signed in as a refinisher."""

    def setUp(self):
        self.addCleanup(clock.freeze, None)
        self.shop = Shop().build()
        self.client.force_login(self.shop.user)

    def as_owner(self):
        """From now on signed in as the owner, who decides what a refinisher does not."""
        self.client.force_login(self.shop.people["owner"])


class ShopCase(InShop, TestCase):
    """A Django test in the small workshop."""


class DropTriggers:
    """For tests that flush: append-only triggers go first, and the flush's post_migrate makes them anew."""

    def _fixture_teardown(self):
        for name in connections:
            drop_triggers(name)
        super()._fixture_teardown()


class TaskCase(DropTriggers, InShop, TransactionTestCase):
    """Rows of a child process are seen by other connections, so nothing is rolled back here."""

    def ended(self, url):
        """The task of a page once its process has ended."""
        for thread in tasks.followers():
            thread.join()
        return Task.objects.get(pk=int(url.rstrip("/").split("/")[-1]))


def utc(text):
    """A moment in UTC from ISO text."""
    return datetime.fromisoformat(text).replace(tzinfo=UTC)


def zone_state(zone):
    """State of one zone now, and the facts it rests on."""
    found = load([zone])
    return state_of(found.zones[zone.pk], found, found.now.timestamp()), found


def folded_states(zones):
    """Every zone's folded state in plain numbers, to compare before and after a restore."""
    found = {}
    for pk, each in load(zones, whole=True).zones.items():
        coats = [e for e in each.events if hasattr(e, "film")]
        times = []
        for coat in coats:
            for row in coat.sheet.windows if coat.sheet else ():
                times.append(crossing(each.where, row.opens, coat.ended_s).t_s)
        found[pk] = {
            "events": [repr((type(e).__name__, e.began_s, e.ended_s, e.share, e.step)) for e in each.events],
            "opens": times,
            "films": [c.film.dft_um for c in coats],
        }
    return found
