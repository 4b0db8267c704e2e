"""Setting up the workshop and its people."""

from django.db import transaction

from emplastra.shared.private import digest_of, new_secret
from emplastra.shared.services import Refused

from . import setup
from .models import FeedLink, Role, User, Workshop


@transaction.atomic
def set_up(name, time_zone, units, username, password):
    """The workshop and its first owner. Raises Refused if there is an owner already."""
    if User.objects.exists():
        raise Refused("the workshop has been set up already: sign in")
    workshop = Workshop.current()
    workshop.name, workshop.time_zone, workshop.units = name, time_zone, units
    workshop.save()
    owner = User.objects.create_user(username, password=password, role=Role.OWNER)
    setup.void_code()
    return owner


def _owners_only(by):
    if not by.is_owner:
        raise Refused("only an owner may do that")


def change_workshop(by, **fields):
    """Change settings of the workshop. Raises Refused for whoever is no owner."""
    _owners_only(by)
    workshop = Workshop.current()
    for name, value in fields.items():
        setattr(workshop, name, value)
    workshop.save()
    return workshop


def add_person(by, username, role, password):
    """Somebody new at the bench. Raises Refused for whoever is no owner."""
    _owners_only(by)
    return User.objects.create_user(username, password=password, role=role)


def tell_bench_hours(by, person, text):
    """When somebody is usually at the bench. Raises Refused for whoever is neither they nor an owner."""
    if by.pk != person.pk or not by.may_write:
        _owners_only(by)
    person.bench_hours = text
    person.save(update_fields=["bench_hours"])


@transaction.atomic
def make_feed(user, now, lead_min, quiet_from, quiet_to):
    """A new private calendar address of somebody; the one before it is revoked. Its secret, told this once."""
    revoke_feeds(user, now)
    secret = new_secret()
    FeedLink.objects.create(
        user=user, digest=digest_of(secret), made=now, lead_min=lead_min, quiet_from=quiet_from, quiet_to=quiet_to
    )
    return secret


def revoke_feeds(user, now):
    """Close all calendar addresses of somebody."""
    return FeedLink.objects.filter(user=user, revoked=None).update(revoked=now)


def feed_of(secret):
    """The FeedLink that a secret opens, None where it opens none, or belongs to somebody who is out."""
    rows = FeedLink.objects.select_related("user").filter(revoked=None, user__is_active=True)
    return rows.filter(digest=digest_of(secret)).first()


@transaction.atomic
def set_active(by, person, active):
    """Let somebody in or not; nobody is ever deleted. Raises Refused for the last owner, and whoever is no owner."""
    _owners_only(by)
    owners = User.objects.filter(role=Role.OWNER, is_active=True).exclude(pk=person.pk)
    if not active and person.is_owner and not owners.exists():
        raise Refused("the last owner cannot be deactivated")
    person.is_active = active
    person.save(update_fields=["is_active"])
