"""Setting up the workshop and its people."""

from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from emplastra.shared.private import digest_of, new_secret
from emplastra.shared.services import Refused

from . import factor, setup
from .models import FeedLink, NewPassword, Role, Session, User, Workshop
from .names import name_key
from .sessions import ends

LINK_HOLDS = timedelta(hours=24)
"""For how long an address opens by which somebody chooses a password."""


@transaction.atomic
def set_up(name, time_zone, units, username, password):
    """The workshop and its first owner. Raises Refused if there is an owner already."""
    if User.objects.exists():
        raise Refused("the workshop has been set up already: sign in")
    workshop = Workshop.current()
    workshop.name, workshop.time_zone, workshop.units = name, time_zone, units
    workshop.save()
    owner = User.objects.create_user(new_name(username), password=password, role=Role.OWNER)
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
    if "idle_min" in fields:
        for session in Session.objects.exclude(idle_min=workshop.idle_min):
            session.idle_min = workshop.idle_min
            session.expire_date = ends(session)
            session.save(update_fields=["idle_min", "expire_date"])
    return workshop


def new_name(username):
    """A name that can be read, and is nobody's yet, as it is kept. Raises Refused."""
    name = " ".join(username.split())
    if not name_key(name):
        raise Refused("has no sign that can be seen: write a name", "username")
    if User.objects.filter(name_key=name_key(name)).exists():
        raise Refused("is taken, or looks like one that is: choose another name", "username")
    return name


@transaction.atomic
def add_person(by, username, role, password=""):
    """Somebody new at the bench; without a password nobody signs in by the name until one is chosen. Raises Refused."""
    _owners_only(by)
    return User.objects.create_user(new_name(username), password=password or None, role=role)


@transaction.atomic
def change_role(by, person, role):
    """Give somebody another role. Raises Refused for the last owner, and for whoever is no owner."""
    _owners_only(by)
    if person.is_owner and role != Role.OWNER:
        _not_the_last_owner(person, "the last owner stays one: make somebody else an owner first")
    person.role = role
    person.save(update_fields=["role"])


def _not_the_last_owner(person, sentence):
    if not User.objects.filter(role=Role.OWNER, is_active=True).exclude(pk=person.pk).exists():
        raise Refused(sentence)


@transaction.atomic
def change_password(person, password, keep=""):
    """Give somebody a new password: they are signed out everywhere but in the session of this key, their addresses for
    a new password open no more.
    """
    person.set_password(password)
    person.save(update_fields=["password"])
    sign_out(person, keep)
    _void_links(person)


def _void_links(person):
    NewPassword.objects.filter(user=person, used=None).update(used=timezone.now())


def sign_out(person, keep=""):
    """End what somebody has open, but the session of this key; how many were ended."""
    return person.sessions.exclude(session_key=keep).delete()[0]


@transaction.atomic
def link_for_password(by, person):
    """A private address by which somebody chooses a password, once: its secret, told this once.

    by: an owner, or None at the terminal. Raises Refused.
    """
    if by is not None:
        _owners_only(by)
    if not person.is_active:
        raise Refused("is not let in: let them in again first")
    _void_links(person)
    secret = new_secret()
    NewPassword.objects.create(user=person, by=by, digest=digest_of(secret), until=timezone.now() + LINK_HOLDS)
    return secret


def link_of(secret):
    """The NewPassword that a secret opens, None where it opens none any more."""
    rows = NewPassword.objects.select_related("user").filter(used=None, user__is_active=True, until__gt=timezone.now())
    return rows.filter(digest=digest_of(secret)).first()


@transaction.atomic
def choose_password(secret, password):
    """Take the password that somebody chose by a private address; the person. Raises Refused where it opens none."""
    link = link_of(secret)
    if link is None:
        raise Refused("this address has been used, or is over: ask an owner for another")
    change_password(link.user, password)
    return link.user


@transaction.atomic
def drop_factor(by, person):
    """Take away the second factor of somebody who lost it. Raises Refused for whoever is no owner."""
    if by.pk != person.pk:
        _owners_only(by)
    factor.turn_off(person)


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
    """Let somebody in or not; nobody is ever deleted. Whoever is let in again signs in anew, and makes new addresses.

    Raises Refused for the last owner, and whoever is no owner.
    """
    _owners_only(by)
    if not active:
        if person.is_owner:
            _not_the_last_owner(person, "the last owner cannot be deactivated")
        sign_out(person)
        revoke_feeds(person, timezone.now())
        _void_links(person)
    person.is_active = active
    person.save(update_fields=["is_active"])
