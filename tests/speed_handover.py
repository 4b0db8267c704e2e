"""Speed of hand-over: a dossier of 40 faces, looks over 200 jobs, an archive there and back, a day of practice."""

import io
import time
from datetime import date, timedelta

FACES, JOBS, EACH = 40, 200, 5


def took(do):
    began = time.perf_counter()
    found = do()
    return time.perf_counter() - began, found


def handover(shop):
    """Seconds where seconds are asked for, else times the empty shell."""
    from emplastra.handover import unpacking
    from emplastra.handover.dossier import dossier_of
    from emplastra.handover.packing import pack
    from emplastra.handover.pdf import dossier_pdf
    from emplastra.say.book import Book
    from tests.base import drop_caches

    _forty(shop)
    drop_caches()
    gathered, dossier = took(lambda: dossier_of(shop.job, Book()))
    drawn, data = took(lambda: dossier_pdf(dossier))
    print(f"\nDossier of {len(dossier.faces)} faces with 2 photos each: {gathered:.1f} s gathered, {drawn:.1f} s set, {len(data) / 1e6:.1f} MB (target 20 s)")  # fmt: skip
    out = io.BytesIO()
    packed, (rows, pictures) = took(lambda: pack(shop.job, Book(), out))
    told, archive = unpacking.look(out)
    read, _ = took(lambda: unpacking.take_in(told, archive, shop.people["owner"], "0" * 64))
    print(f"Archive of it, {rows} rows and {pictures} photos: {packed:.1f} s out, {read:.1f} s in")
    _looks(shop)
    _practice()


def _forty(shop):
    """Forty faces with two coats each, a gauge, two photos."""
    from PIL import Image

    from emplastra.jobs import photos
    from emplastra.logbook.models import Kind

    out = io.BytesIO()
    Image.effect_noise((1600, 1200), 60).convert("RGB").save(out, "JPEG")
    picture = photos.clean(out.getvalue())
    for n in range(FACES):
        zone = shop.make_zone(f"Face {n:02d}") if n else shop.zone
        shop.tell(Kind.BARED, -8, -7, "s-strip", zone=zone)
        shop.coat(-6.5, -6, zone=zone, wft_um=[100, 104, 98])
        shop.coat(-3, -2, zone=zone, wft_um=[101, 99])
        for when in ("before", "after"):
            photos.keep(zone, shop.user, picture, when, "as it was")


def _looks(shop):
    """The page of what held, over many jobs, beside the empty shell."""
    from django.test import Client

    from emplastra.jobs.models import Job, Revisit, Zone, ZoneRevision
    from emplastra.logbook.models import Entry, EntryZone, Kind
    from emplastra.shared import clock
    from emplastra.state import held
    from tests.base import SQUARE

    now = clock.now()
    jobs = Job.objects.bulk_create(Job(name=f"Job {n}", filing="archived") for n in range(JOBS))
    zones = Zone.objects.bulk_create(Zone(job=job, name=f"Face {n}") for job in jobs for n in range(EACH))
    measures = {"substrate": "steel", "thickness_mm": 1.0, "form": "flat", "finish_class": "show", "shapes": SQUARE}
    ZoneRevision.objects.bulk_create(ZoneRevision(zone=zone, recorded=now, **measures) for zone in zones)
    at = now - timedelta(days=1500)
    acts = [(kind, at + timedelta(hours=n)) for n, kind in enumerate((Kind.BARED, Kind.KEYED, Kind.COAT, Kind.COAT))]
    entries = Entry.objects.bulk_create(Entry(kind=kind, began=t, ended=t, recorded=now, who=shop.user) for _ in zones for kind, t in acts)  # fmt: skip
    EntryZone.objects.bulk_create(EntryZone(entry=entry, zone=zones[n // len(acts)], recorded=now) for n, entry in enumerate(entries))  # fmt: skip
    Revisit.objects.bulk_create(Revisit(zone=zone, who=shop.user, recorded=now, seen=date(2024, 5, 1) + timedelta(days=365 * k), verdict="failed" if n % 9 == 0 else "same") for n, zone in enumerate(zones) for k in range(2))  # fmt: skip
    client = Client()
    client.force_login(shop.user)
    Job.objects.update(filing="archived")

    def best(url, count=9):
        client.get(url)
        return min(took(lambda: client.get(url))[0] for _ in range(count))

    shell, warm = best("/more/"), best("/held/")
    held.forget()
    cold, _ = took(lambda: client.get("/held/"))
    print(f"Looks at {len(zones)} faces of {JOBS} jobs: {warm / shell:.1f} x the shell, {cold / shell:.1f} x the first time after something was recorded (target 4 x)")  # fmt: skip


def _practice():
    """A day and a week of practice, folded whole."""
    from tests.core.test_practice import GOOD, played

    for key in ("hour/skin", "day/sill", "week/door"):
        acts = GOOD[key]
        played(key, acts)
        spent = min(took(lambda key=key, acts=acts: played(key, acts))[0] for _ in range(5))
        print(f"Practice, {key}: {len(acts)} acts folded in {spent * 1000:.0f} ms (target of a day 200 ms)")
