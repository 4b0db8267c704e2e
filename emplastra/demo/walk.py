"""The demo's survey: what was seen on a walk round its pieces, from survey.yaml; photos are drawn."""

import io
from datetime import timedelta
from importlib import resources

import numpy as np
import yaml

from emplastra.accounts.models import User
from emplastra.core.survey.answers import Answer
from emplastra.core.survey.topics import TOPICS
from emplastra.jobs import access_plans, estimates, photos, registers, surveying
from emplastra.shared import clock


def _answers(told, stage):
    """[(Answer, cause)] of a zone's pass, in the order of the topics."""
    found = []
    for topic in TOPICS:
        if topic not in told:
            continue
        rows = told[topic]
        if isinstance(rows, list):
            marks = [(str(n), row) for n, row in enumerate(rows, 1)]
        elif topic == "hides":
            marks = list(rows.items())
        else:
            marks = [("", rows)]
        found += [_answer(topic, mark, row, stage) for mark, row in marks]
    return found


def _answer(topic, mark, row, stage):
    row = dict(row) if isinstance(row, dict) else {"is": row}
    choice, cause, text = str(row.pop("is")), row.pop("cause", ""), row.pop("text", "")
    seen = row.pop("seen", "bare" if stage == "bared" else "paint")
    return Answer(topic, mark, choice, {k: float(v) for k, v in row.items()}, text, seen), cause


def walk_round(user, zones):
    """State it all, name what became of some of it, and keep a few pictures."""
    told = yaml.safe_load((resources.files(__package__) / "survey.yaml").read_text())
    for stage in ("found", "bared"):
        for name, passes in told.items():
            if stage in passes:
                surveying.state(zones[name], user, stage, _answers(passes[stage], stage))
    _became(user, zones)
    _taken_off_and_put_off(user, zones)
    _priced(user, zones)
    _access(user, zones)
    for name, note, when, seed in (
        ("Cab side, left, outer", "lower edge at the door post", "before", 3),
        ("Cab side, left, outer", "the same, bare", "after", 4),
        ("Frame, right, inside", "inside, by mirror", "before", 5),
    ):
        photos.keep(zones[name], user, photos.clean(picture(seed, when == "after")), when, note)


def _became(user, zones):
    """The drain was opened and its rust answered; what it fed stays open elsewhere."""
    left = zones["Cab side, left, outer"]
    held = surveying.held(left)
    steps = {s["kind"]: s["id"] for s in left.build_ups.first().steps}
    for topic, mark in (("rust", ""), ("hides", "lower-edge")):
        finding = held["found", topic, mark]
        surveying.say_of(finding, user, "mended", note="drain opened and probed")
        surveying.say_of(finding, user, "answered", step=steps["strip"])
    surveying.say_of(held["found", "hides", "lower-edge"], user, "verified", note="bright, no pits below the step")
    surveying.say_of(held["found", "drain", "1"], user, "answered", step=steps["strip"])
    for name, topic, kind in (
        ("Frame, left, inside", "wax", "clean"),
        ("Locker back, lower lip", "uncovered", "strip"),
    ):
        steps_there = {s["kind"]: s["id"] for s in zones[name].build_ups.first().steps}
        found = surveying.held(zones[name])["found", topic, ""]
        surveying.say_of(found, user, "answered", step=steps_there[kind])
    surveying.say_of(
        held["found", "seams", ""],
        user,
        "answered",
        step=next(s["id"] for s in left.build_ups.first().steps if s["kind"] == "prime"),
    )


def _taken_off_and_put_off(user, zones):
    """A few parts off, and work that waits."""
    left, roof, yoke = (zones[n] for n in ("Cab side, left, outer", "Roof, aluminium, outer", "Brake yoke"))
    job = left.job
    registers.take_off(
        job,
        user,
        "Door, left",
        left,
        fixings="6 of M8 x 25, two longer below",
        shims=[["upper hinge", 1.5], ["lower hinge", 3.0]],
        kept_at="rack 2",
    )
    registers.take_off(
        job,
        user,
        "Vent",
        roof,
        fixings="8 steel screws",
        broken="flange cracked",
        to_buy="8 stainless screws, rubber ring",
    )
    lamp = registers.take_off(job, user, "Marker lamp", None, fixings="2 of M5", to_buy="seal")
    registers.say_of_part(lamp, user, "bought")
    today = clock.now().date()
    registers.put_off(
        zones["Locker back, lower lip"],
        user,
        "put-off",
        "weld the lip",
        "no panel to be had yet",
        today,
        "wash primer, can",
        today + timedelta(days=14),
    )
    registers.put_off(
        yoke,
        user,
        "watched",
        "wear at the pin bore",
        "inspected and sound; looked at each season",
        today + timedelta(days=60),
    )


def _priced(user, zones):
    """Ways to mend what is rotten, a decision, and how long work took before."""
    left, frame = zones["Cab side, left, outer"], zones["Frame, right, inside"]
    job = left.job
    foot = {"access_h": 3.0, "unseen": 1}
    estimates.estimate(
        job,
        user,
        "Door post, left",
        left,
        option="patch",
        pieces=3,
        edge_mm=1900,
        material=35,
        note="outer skin, foot",
        **foot,
    )
    estimates.estimate(
        job,
        user,
        "Door post, left",
        left,
        option="sections",
        pieces=1,
        edge_mm=900,
        material=20,
        note="rotten inner behind it",
        **foot,
    )
    estimates.estimate(
        job,
        user,
        "Door post, left",
        left,
        option="part",
        edge_mm=2600,
        price=640,
        material=30,
        note="post with skin, made to order",
        access_h=3.0,
    )
    estimates.estimate(
        job, user, "Frame end, right", frame, option="patch", pieces=1, edge_mm=400, material=12, unseen=1, access_h=1.0
    )
    estimates.estimate(job, user, "Frame end, right", frame, option="donor", edge_mm=1200, price=900, had="no")
    owner = User.objects.get(username="owner")
    estimates.decide(job, owner, "Door post, left", "repair", clock.now().date(), "keep as much of the old as holds")
    for kind, plan_h, actual_h in (
        ("repair", 2, 9),
        ("repair", 6, 10.5),
        ("repair", 3, 5),
        ("strip", 3, 4),
        ("strip", 2, 3.5),
        ("fit", 4, 5),
    ):
        estimates.tell_hours(user, kind, plan_h, actual_h, job)


def _access(user, zones):
    """The door post: opened, mended inside, closed again; and what hides the right frame rail."""
    left, inner, right = (
        str(zones[n].pk) for n in ("Cab side, left, outer", "Frame, left, inside", "Frame, right, inside")
    )
    acts = [
        ("a1", "open", "Door and post cover, left", [left, inner], [], True),
        ("a2", "weld", "Patch at the foot of the post", [left, inner], ["a1"], False),
        ("a3", "coat", "Inside of the post and rail", [inner], ["a2"], False),
        ("a4", "trial-fit", "Door, left", [left], ["a2"], False),
        ("a5", "take-off", "Door, left", [left], ["a4"], False),
        ("a6", "close", "Post cover, left", [inner], ["a3"], False),
        ("a7", "fit", "Door, left", [left], ["a5"], False),
        ("a8", "close", "Floor over the right rail", [right], [], False),
    ]
    rows = [
        {
            "id": i,
            "kind": k,
            "what": w,
            "faces": f,
            "after": a,
            "bare_um": 3900.0 if i == "a7" else None,
            "least_um": 3000.0 if i == "a7" else 0.0,
            "done": d,
            "added_s": clock.now().timestamp(),
        }
        for i, k, w, f, a, d in acts
    ]
    access_plans.save(zones["Cab side, left, outer"].job, user, rows, 0)


def picture(seed, clean=False):
    """A drawn stand-in for a photo of metal [JPEG bytes]: scale and rust, or brushed bright."""
    from PIL import Image, ImageFilter

    random = np.random.default_rng(seed)
    height, width = 480, 640
    grain = random.normal(0, 1, (height, width))
    flat = Image.fromarray((grain * 40 + 128).clip(0, 255).astype("uint8"))
    coarse = np.asarray(flat.filter(ImageFilter.GaussianBlur(16)), dtype=float)
    rust = ((coarse - coarse.mean()) / coarse.std() + np.linspace(-1.4, 1.8, height)[:, None]) > (1.9 if clean else 0.2)
    metal = 150 + 14 * grain if not clean else 175 + 12 * random.normal(0, 1, (height, 1)) + 5 * grain
    pixels = np.stack([metal, metal, metal * 1.02], axis=-1)
    tone = 0.8 + 0.12 * grain[..., None]
    pixels[rust] = (np.array([142, 74, 40]) * tone)[rust]
    out = io.BytesIO()
    Image.fromarray(pixels.clip(0, 255).astype("uint8")).save(out, "JPEG", quality=85)
    return out.getvalue()
