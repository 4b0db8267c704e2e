"""Setting up the workshop and its people."""

from django.db import transaction

from emplastra.shared.services import Refused

from . import setup
from .models import Role, User, Workshop


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


def change_workshop(**fields):
    """Change settings of the workshop."""
    workshop = Workshop.current()
    for name, value in fields.items():
        setattr(workshop, name, value)
    workshop.save()
    return workshop


def add_person(username, role, password):
    """Somebody new at the bench."""
    return User.objects.create_user(username, password=password, role=role)


@transaction.atomic
def set_active(user, active):
    """Let somebody in or not; nobody is ever deleted. Raises Refused for the last owner."""
    owners = User.objects.filter(role=Role.OWNER, is_active=True).exclude(pk=user.pk)
    if not active and user.is_owner and not owners.exists():
        raise Refused("the last owner cannot be deactivated")
    user.is_active = active
    user.save(update_fields=["is_active"])
