"""Speed of plans: a change on a build-up, quantities and a what-if of a job of 300 zones with plans of 15 steps."""

import time

ZONES = 300


def plans(shop):
    """Each as a multiple of the signed-in empty shell measured beside it, with its queries; the what-if in seconds too."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from emplastra.demo.workshop import load_materials
    from emplastra.jobs.models import Job
    from emplastra.jobs.services import add_zone, adopt_system, measures_of
    from emplastra.materials.models import SystemVersion
    from tests.pages import sent
    from tests.speed import best

    load_materials()
    job, measures = Job.objects.create(name="Large"), measures_of(shop.zone)
    version = SystemVersion.objects.get(system__name="Epoxy first, body work over it")
    for n in range(ZONES):
        shapes = [{"kind": "flat", "dims": {"length": 1000 + n, "width": 500 + n}, "count": 1}]
        zone = add_zone(job, f"Face {n:03}", shop.user, **{**measures, "shapes": shapes})
        adopt_system(zone, shop.user, version)
    client = Client()
    client.force_login(shop.user)
    few = Job.objects.create(name="Few")
    one = add_zone(few, "Face", shop.user, **measures)
    adopt_system(one, shop.user, version)
    form = client.get(f"/zones/{one.pk}/plan").context["form"]
    typed = sent(form)
    moved = {**typed, "do": f"down:{form.steps[1].id}"}
    surfacer = next(s.product for s in form.steps if s.kind == "surface")
    asked = {"a-what": "product", "a-of": surfacer, "a-product": "Two-pack surfacer, light grey", "b-what": "coats", "b-of": surfacer, "b-coats": "5"}  # fmt: skip
    rows = (
        ("A change on a build-up: its picture", lambda: client.post(f"/zones/{one.pk}/preview", typed), "4 x in all"),
        ("A step moved: its steps", lambda: client.post(f"/zones/{one.pk}/arrange", moved), ""),
        ("A system as it is typed", lambda: client.post("/systems/look", {**typed, "name": "x"}), ""),
        ("Build-up, 15 steps", lambda: client.get(f"/zones/{one.pk}/plan"), ""),
        ("Systems", lambda: client.get("/systems/"), ""),
        (f"Quantities, {ZONES} zones", lambda: client.get(f"/jobs/{job.pk}/quantities"), "6 x"),
        (f"What if, {ZONES} zones, two changes", lambda: client.get(f"/jobs/{job.pk}/what-if", asked), "2 s"),
    )

    def shell():
        return best(lambda: client.get("/more/"), 15)

    for name, act, target in rows:
        large = str(ZONES) in name
        Job.objects.filter(pk=job.pk).update(filing="open" if large else "closed")
        act()
        with CaptureQueriesContext(connection) as queries:
            act()
        count = len(queries)
        Job.objects.filter(pk=job.pk).update(filing="closed")
        client.get("/more/")
        beside = shell()
        Job.objects.filter(pk=job.pk).update(filing="open" if large else "closed")
        act()
        start = time.perf_counter()
        act()
        took = time.perf_counter() - start
        print(f"{name:<40} {best(act, 5) / beside:>7.1f}   {count:>7}   {target:<12} {took:.2f} s")
