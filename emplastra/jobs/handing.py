"""Handing a job over: what is told to its owner, who may read of its care by a private address, looks after years."""

from django.db import transaction

from emplastra.core.care.grades import KINDS, Seen
from emplastra.core.care.held import VERDICTS
from emplastra.shared import clock
from emplastra.shared.private import digest_of, new_secret
from emplastra.shared.services import Refused, owners_only, writes

from .models import CareLink, HandOver, Revisit

PARTS = {
    "map": "The map",
    "decided": "Verdicts and decisions",
    "found": "As found and as bared",
    "photos": "Photos",
    "built": "Each face as it was built",
    "film": "Film measured",
    "coats": "Every coat: batch, air, film",
    "accepted": "Accepted against a rule",
    "contractor": "Contractors",
    "kept": "Marks, seams, textures and colour kept",
    "off": "Taken off",
    "left": "Left as found, put off",
    "watch": "What to watch",
    "hours": "Hours and cost",
}
"""Parts of a dossier, in its order."""
USUAL = tuple(key for key in PARTS if key != "hours")
"""What an owner is told where nobody chose."""
MOST_WORDS = 4000


@writes
def hand_over(job, user, parts, words=""):
    """What is told to the owner from now on. Raises Refused naming what cannot be."""
    chosen = [key for key in PARTS if key in set(parts)]
    if not chosen:
        raise Refused("choose at least one part", "parts")
    if len(words) > MOST_WORDS:
        raise Refused(f"has {len(words)} characters: at most {MOST_WORDS}", "words")
    return HandOver.objects.create(job=job, who=user, parts=chosen, words=words.strip())


def handed_over(job):
    """The hand-over that holds, None before the first."""
    return HandOver.objects.filter(job=job).select_related("who").order_by("id").last()


@owners_only
@transaction.atomic
def make_care_link(job, user):
    """A new private address of a job's care page; the one before it is revoked. Its secret, told this once."""
    revoke_care(job, user)
    secret = new_secret()
    CareLink.objects.create(job=job, who=user, digest=digest_of(secret), made=clock.now())
    return secret


@owners_only
def revoke_care(job, user):
    """Close all care addresses of a job; how many were open."""
    return CareLink.objects.filter(job=job, revoked=None).update(revoked=clock.now())


def care_link(job):
    """The address that is open, None without one."""
    return CareLink.objects.filter(job=job, revoked=None).order_by("-id").first()


def job_of_care(secret):
    """The job whose care page a secret opens, None where it opens none."""
    found = CareLink.objects.filter(digest=digest_of(secret), revoked=None, job__removed=False)
    link = found.select_related("job").first()
    return link.job if link else None


@writes
def look_again(zone, user, seen, verdict, found=(), note="", photo=None):
    """A face looked at again on a day. found: [(kind, quantity, size, where)]. Raises Refused naming the field."""
    if zone.retired or zone.removed:
        raise Refused("this face was split, joined or given up: look at what became of it")
    if seen > clock.now().date():
        raise Refused("must not be in the future", "seen")
    rows = [_seen(row) for row in found]
    _agrees(verdict, rows)
    told = [[row.kind, row.quantity, row.size, row.where] for row in rows if row.quantity]
    return Revisit.objects.create(
        zone=zone, who=user, seen=seen, verdict=verdict, found=told, note=note.strip()[:200], photo=photo
    )


def _agrees(verdict, rows):
    """Refuse a word that what was seen speaks against."""
    if verdict not in VERDICTS:
        raise Refused(f"must be one of {', '.join(VERDICTS)}", "verdict")
    if verdict == "failed" and not any(row.quantity for row in rows):
        raise Refused("say what failed, where, and how much of it", "found")
    if verdict == "same" and any(row.failed for row in rows):
        raise Refused("so much of it is a failure, not the same as it was", "verdict")


def _seen(row):
    kind, quantity, size, where = row
    if kind not in KINDS:
        raise Refused(f"must be one of {', '.join(KINDS)}", "found")
    try:
        return Seen(kind, int(quantity), int(size), str(where).strip()[:80])
    except (TypeError, ValueError) as error:
        raise Refused(str(error), "found") from error


def looks_at(zones):
    """{zone id: its Revisits in order}, those of the faces it was made from among them; one query."""
    lines = {zone.pk: _line(zone) for zone in zones}
    asked = {pk for line in lines.values() for pk in line}
    rows = Revisit.objects.filter(zone__in=asked).select_related("who", "photo").order_by("seen", "id")
    rows = list(rows)
    return {pk: [row for row in rows if row.zone_id in line] for pk, line in lines.items()}


def _line(zone):
    """Ids of a zone and of those it goes on from."""
    line = [zone.pk]
    while zone.origin_id:
        zone = zone.origin
        line.append(zone.pk)
    return line
