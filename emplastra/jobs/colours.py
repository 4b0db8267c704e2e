"""Colour groups of a job: which faces are of one, what it is painted with, its cards, its number of mid-coats."""

from django.db import transaction

from emplastra.core.colour import card as cards
from emplastra.core.surface.names import StepKind
from emplastra.shared.services import Refused, as_refused, writes

from .models import Colour, ColourCard, Zone, ZoneRevision
from .services import add_zone, measures_of, new_step_id, revise_zone, save_build_up
from .surveying import say_of, seen_in_film

FIELDS = ("name", "formula", "variant", "batch", "kept", "mids", "limit", "card", "undertone", "awaited")
MIDS_MOST = cards.COATS_MOST
LIMITS = (0.1, 20.0)
SPOT_MM = 100.0
"""Side of the spot that is mended where nobody says how large [mm]."""
KEY_SPOT = "P800"
"""What a spit in a ground coat is sanded out with. Common practice, no source."""
SHOWN = ("spit", "scratch", "shows")
"""What a lamp shows, keys of the survey's topic of films."""


def colours_of(jobs):
    """{job id: {group: the Colour that holds}}; one query."""
    found = {}
    for row in Colour.objects.filter(job__in=jobs).select_related("card").order_by("id"):
        found.setdefault(row.job_id, {})[row.group] = row
    return found


def cards_of(job):
    """{group: its cards, the newest first}."""
    found = {}
    for row in ColourCard.objects.filter(job=job).order_by("-id"):
        found.setdefault(row.group, []).append(row)
    return found


def _group(group):
    group = group.strip()
    if not 1 <= len(group) <= 40:
        raise Refused("write a name of 1 to 40 characters for the group", "group")
    return group


@writes
def tell_colour(job, user, group, **told):
    """What a group is painted with, from now on; what is not told stays as it was. Raises Refused."""
    group = _group(group)
    was = Colour.objects.filter(job=job, group=group).order_by("id").last()
    fields = {name: getattr(was, name) for name in FIELDS} if was else {}
    fields |= told
    mids, limit = fields.get("mids"), fields.get("limit")
    if mids is not None and not 0 <= mids <= MIDS_MOST:
        raise Refused(f"a number of mid-coats is from 0 to {MIDS_MOST}", "mids")
    if limit is not None and not LIMITS[0] <= limit <= LIMITS[1]:
        raise Refused(f"must be from {LIMITS[0]:g} to {LIMITS[1]:g}", "limit")
    if was is not None and all(getattr(was, name) == fields[name] for name in FIELDS):
        return was
    return Colour.objects.create(job=job, group=group, who=user, **fields)


@writes
def add_card(job, user, group, text, made, coat_um=None, over=""):
    """A spray-out card of a group. Raises Refused naming the line that cannot be read."""
    with as_refused("card"):
        found = cards.read(text)
    patches = [[n, *lab.coordinates] for n, lab in found.patches]
    sample = list(found.sample.coordinates) if found.sample else None
    told = {"text": text, "patches": patches, "sample": sample, "made": made, "coat_um": coat_um, "over": over}
    return ColourCard.objects.create(job=job, group=_group(group), who=user, **told)


@writes
@transaction.atomic
def choose(job, user, group, mids, card=None):
    """The number of mid-coats of a group: by its card, or by eye. Raises Refused."""
    if card is not None and not card.card.reaches(mids):
        raise Refused("the card has no patch of so many mid-coats: spray one", "mids")
    return tell_colour(job, user, group, mids=mids, card=card)


@writes
@transaction.atomic
def put_in_group(zones, user, group):
    """Faces of one job into a colour group ("": into none); those that are in it already stay. How many were put."""
    name, count = _group(group) if group else "", 0
    for zone in zones:
        measures = measures_of(zone)
        if measures["colour_group"] != name:
            revise_zone(zone, user, "colour group", **measures | {"colour_group": name})
            count += 1
    return count


@writes
@transaction.atomic
def plan_mids(job, user, group, mids, done):
    """As many mid-coats in the plan of each face of a group and its spots; done: {zone id: ids of steps that are done}.

    How many plans were changed. A plan without mid-coats, or whose mid-coats are all on, stays as it is.
    """
    count = 0
    for zone in zones_in(job, group):
        plan = zone.build_ups.first()
        steps = plan.steps if plan else []
        open_mids = [s for s in steps if s["kind"] == StepKind.MID and not s.get("left_out")]
        if len(open_mids) != 1 or open_mids[0]["id"] in done.get(zone.pk, ()) or open_mids[0]["coats"] == mids:
            continue
        changed = [s | {"coats": mids} if s is open_mids[0] else s for s in steps]
        save_build_up(zone, user, changed, plan.number)
        count += 1
    return count


def zones_in(job, group):
    """Faces of a group, and the spots on them."""
    zones = list(Zone.objects.in_use().filter(job=job).order_by("id"))
    newest = {r.zone_id: r.colour_group for r in ZoneRevision.objects.filter(zone__in=zones).order_by("id")}
    mine = {zone.pk for zone in zones if newest.get(zone.pk) == group}
    return [zone for zone in zones if zone.pk in mine or zone.parent_id in mine]


@writes
@transaction.atomic
def mend_spot(finding, user, ground, coats):
    """A spot of its own for what a lamp showed: sanded out there, wiped, brought back to full coverage, until a coat of
    its face joins it. ground: the step of the face's plan that its ground is; coats: so many. Raises Refused.
    """
    face, name = finding.zone, spot_name(finding)
    if Zone.objects.in_use().filter(job=face.job, name=name).exists():
        raise Refused(f"“{name}” is made already: mend it there")
    one = {"kind": "flat", "dims": {"length": SPOT_MM, "width": SPOT_MM}, "count": 1}
    spot = add_zone(face.job, name, user, parent=face, **measures_of(face) | {"colour_group": "", "shapes": [one]})
    # It goes on from what lies on its face.
    spot.origin = face
    spot.save(update_fields=["origin"])
    kept = {key: getattr(ground, key) for key in ("kind", "product", "dft_um", "method")}
    steps = [
        {"kind": StepKind.ABRADE, "grit": KEY_SPOT, "note": "there alone"},
        {"kind": StepKind.DEGREASE},
        kept | {"coats": coats, "note": "full coverage again, then it joins"},
    ]
    save_build_up(spot, user, steps, 0)
    return spot


def spot_name(finding):
    """What the spot is called that is made for what a lamp showed."""
    return f"{finding.zone.name[:46]}, {(finding.text or finding.choice)[:30]}"


@writes
def plan_again(zone, user, ground_coats, mids, done):
    """Ground coats that hide, and the chosen mid-coats, put in before the first undone step of a plan: the count begins
    anew over them. ground_coats: None for as many as its plan had. Raises Refused.
    """
    plan = zone.build_ups.first()
    steps = plan.steps if plan else []
    grounds = [s for s in steps if s["kind"] == StepKind.BASE]
    middles = [s for s in steps if s["kind"] == StepKind.MID]
    if not grounds or not middles:
        raise Refused("its plan has no ground coat or no mid-coat: put them in first")
    ground = grounds[-1] | {
        "id": new_step_id(),
        "coats": ground_coats or grounds[-1]["coats"],
        "note": "hides the count",
    }
    mid = middles[-1] | {"id": new_step_id(), "coats": mids}
    at = next((i for i, s in enumerate(steps) if s["id"] not in done), len(steps))
    return save_build_up(zone, user, [*steps[:at], ground, mid, *steps[at:]], plan.number)


@writes
def seen_even(zone, user):
    """A lamp shows nothing any more: what it showed there before is verified."""
    for finding, verified in seen_in_film([zone], SHOWN):
        if not verified:
            say_of(finding, user, "verified", note="a lamp shows nothing any more")


@writes
@transaction.atomic
def plan_blend(zone, user, stop, layers, batch=""):
    """The plan of a panel of sound paint into which a colour is blended: keyed, masked, colour faded, clear to its
    break, the rest polished. stop: the core's; layers: the steps (colour, clear) of the face that it is to match.
    Raises Refused where nothing goes on it.
    """
    plan = zone.build_ups.first()
    if not stop.clear_m2:
        raise Refused("nothing goes on it when it is stopped at the joint: mask it there")
    rows = []
    for layer in layers:
        area = stop.clear_m2 if layer.kind == StepKind.CLEAR else stop.colour_m2
        note = "to its break" if layer.kind == StepKind.CLEAR else "faded, half way at most"
        note += f"; batch {batch}" if batch and layer.kind != StepKind.CLEAR else ""
        kept = {key: getattr(layer, key) for key in ("kind", "product", "coats", "dft_um", "method", "thinner_pct")}
        rows.append(kept | {"area_m2": round(area, 3), "note": note})
    steps = [
        {"kind": StepKind.DEGREASE, "note": "wax and silicone off"},
        {"kind": StepKind.ABRADE, "grit": BLEND_GRIT, "note": "what takes clear; dents are pressed out, not filled"},
        {"kind": StepKind.DEGREASE},
        {"kind": StepKind.MASK, "note": "the rest, paper"},
        *rows,
        {"kind": StepKind.POLISH, "note": "the clear, and what got none"},
    ]
    return save_build_up(zone, user, steps, plan.number if plan else 0)


BLEND_GRIT = "P1000"
"""What sound paint is keyed with under a blend. Common practice, no source."""
