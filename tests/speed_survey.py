"""Speed of the survey: a job of 300 zones on its map and in lists, and a large mesh measured beside the server."""

import tempfile
import time
from pathlib import Path

import numpy as np

ZONES, FINDINGS, FACES = 300, 12, 500_000


def fill(shop):
    """300 of the workshop's zones placed on the map, each with a dozen findings."""
    from emplastra.core.piece.job_map import COLUMNS, VIEWS
    from emplastra.jobs.models import Finding, Job, MapPlace, Zone

    job = Job.objects.get(name="Everything")
    Job.objects.filter(pk=job.pk).update(filing="open")
    ids = list(Zone.objects.filter(job=job).order_by("id").values_list("id", flat=True))
    Zone.objects.filter(id__in=ids).update(removed=True)
    Zone.objects.filter(id__in=ids[:ZONES]).update(removed=False)
    MapPlace.objects.all().delete()
    views = list(VIEWS)
    MapPlace.objects.bulk_create(
        MapPlace(zone_id=pk, view=views[i % 5], x=(i // 5 * 2) % COLUMNS, y=(i // 60) * 2, w=2, h=2)
        for i, pk in enumerate(ids[:ZONES])
    )
    told = [("uncovered", "yes"), ("looked", "paint"), ("rust", "C"), ("holes", "none"), ("wax", "no"), ("filler", "filler"), ("seams", "open"), ("near", "glass"), ("solder", "seam"), ("pits", "pits"), ("duty", "no"), ("sample", "none")]  # fmt: skip
    Finding.objects.bulk_create(
        Finding(zone_id=pk, stage="found", topic=t, choice=c, evidence="paint", seen=shop.now, recorded=shop.now, who=shop.user)
        for pk in ids[:ZONES]
        for t, c in told[:FINDINGS]
    )  # fmt: skip
    return job, ids[0]


def survey(shop, show):
    """Pages of a large survey as multiples of the empty shell; show(name, url, target) prints one."""
    job, zone = fill(shop)
    show("Job map, 300 zones", f"/jobs/{job.pk}/", "8 x, bounded")
    show("Zones, 300", "/jobs/", "8 x, bounded")
    show("Findings, 300 zones of 12", f"/jobs/{job.pk}/findings", "8 x")
    show("Survey sheet", f"/zones/{zone}/survey/found", "8 x")
    show("Report, 300 zones", f"/jobs/{job.pk}/report", "")
    show("Strip plan", f"/zones/{zone}/strip", "")
    show("Rules, 300 zones", "/rules/", "")
    rules(job)


def rules(job):
    """Core time of the one judge: one act, a plan of 14 steps, 300 zones, and the coats on them in retrospect."""
    from emplastra.core.metal.strip import WAYS
    from emplastra.core.rules import strip
    from emplastra.core.rules.judge import judge
    from emplastra.core.rules.rehearsal import rehearse
    from emplastra.core.surface.plan import PlanStep, progress_of
    from emplastra.say.book import Book
    from emplastra.state.acts import next_act
    from emplastra.state.coats import judged_coats
    from emplastra.state.known import known
    from emplastra.state.ruling import metal_of

    book = Book()
    states = [s for s in book.states() if s.zone.job_id == job.pk]
    acts = [(next_act(s), s) for s in states if s.facts.revision and next_act(s)]
    faces = [(act, book.rulings.face_now(s, act)) for act, s in acts]
    start = time.perf_counter()
    said = sum(len(judge(act, face).verdicts) for act, face in faces)
    one = (time.perf_counter() - start) / len(faces)
    print(f"judge: {len(faces)} acts, {said} things said, {1000 * one:.2f} ms an act without the gate (target 2 ms)")
    coat = next((s.step.product for s in states[0].plan.states if s.step.product in book.facts.sheets), "")
    kinds = ["strip", "abrade", "degrease", "prime", "block", "degrease", "surface", "block", "degrease", "seal", "base", "base", "clear", "close"]  # fmt: skip
    steps = tuple(PlanStep(f"s{n}", kind, coat, dft_um=50) for n, kind in enumerate(kinds))
    face = book.rulings.face_now(states[0], None)
    start, rounds = time.perf_counter(), 20
    for _ in range(rounds):
        for _, act, met in rehearse(face, progress_of(steps, [], face.t_s), book.facts.sheets, ""):
            judge(act, met)
    print(f"rehearsal: a plan of {len(steps)} steps ruled on in {1000 * (time.perf_counter() - start) / rounds:.1f} ms (target 20 ms)")  # fmt: skip
    told = known([s.zone for s in states], book.facts.zones)
    start = time.perf_counter()
    for s in states:
        strip.plan(metal_of(s, told[s.zone.pk]), 1.0, "z")
    print(f"ways to strip: {len(states)} zones, {len(WAYS)} ways each, in {time.perf_counter() - start:.2f} s")
    start = time.perf_counter()
    judged = judged_coats([s.zone for s in states])
    print(f"rules of coats: {len(judged)} coats on them with all the air they had, loading it too, in {time.perf_counter() - start:.2f} s")  # fmt: skip


def bumpy(faces):
    """A binary STL of a bumpy sheet with about this many faces."""
    n = int((faces / 2) ** 0.5) + 1
    x, y = np.meshgrid(np.linspace(0, 1000, n), np.linspace(0, 1000, n))
    points = np.stack([x, y, 5 * np.sin(x / 20) * np.cos(y / 30)], axis=-1).reshape(-1, 3)
    i = (np.arange(n - 1)[:, None] * n + np.arange(n - 1)).ravel()
    corners = np.concatenate([np.stack([i, i + 1, i + n], 1), np.stack([i + 1, i + n + 1, i + n], 1)])
    rows = np.zeros(len(corners), dtype=[("n", "<f4", 3), ("v", "<f4", (3, 3)), ("a", "<u2")])
    rows["v"] = points[corners]
    return b"\0" * 80 + np.uint32(len(corners)).tobytes() + rows.tobytes()


def mesh(client, shop, best):
    """How long a large mesh takes in its process, and how the server answers meanwhile."""
    from emplastra.shared import tasks

    data = bumpy(FACES)
    client.get("/more/")
    idle = best(lambda: client.get("/more/"), 9)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.stl"
        path.write_bytes(data)
        start = time.perf_counter()
        task = tasks.program(
            shop.user, "mesh", "emplastra.core.piece.meshes", path, "stl", about={"zone": 0, "file": "a"}
        )
        answers, said = [], set()
        while tasks.followers():
            at = time.perf_counter()
            client.get("/more/")
            answers.append(time.perf_counter() - at)
            task.refresh_from_db()
            said.add(task.words)
        took = time.perf_counter() - start
        task.refresh_from_db()
    print(f"mesh of {task.result['faces']:,} faces, {len(data) / 1e6:.0f} MB: {took:.1f} s in its process, {len(said)} stages told; meanwhile {len(answers)} answers, the median {sorted(answers)[len(answers) // 2] / idle:.1f} x and the slowest {max(answers) / idle:.1f} x the idle one")  # fmt: skip
