"""A second factor: codes that change every 30 s (TOTP, RFC 6238), and spare ones for the day the phone is gone."""

import hmac
import secrets
import time
from dataclasses import dataclass

import pyotp
from django.db import transaction
from django.utils import timezone

from emplastra.shared.private import digest_of

from .models import SecondFactor

STEP_S = 30
AROUND = 1
"""A code is taken so many steps before and after its own: clocks differ, fingers are slow."""
SPARE = 8


@dataclass(frozen=True)
class Offer:
    """A second factor that is not proven yet: its secret, and the address that an authenticator reads off a code."""

    secret: str
    address: str


def offer(user, workshop):
    """A new Offer for somebody."""
    secret = pyotp.random_base32()
    return Offer(
        secret, pyotp.TOTP(secret, interval=STEP_S).provisioning_uri(name=user.username, issuer_name=workshop.name)
    )


def step_of(secret, code, now_s):
    """The step of time to which a code belongs, None where it belongs to none near this moment [epoch s]."""
    totp, typed = pyotp.TOTP(secret, interval=STEP_S), code.replace(" ", "")
    here = int(now_s) // STEP_S
    near = range(max(0, here - AROUND), here + AROUND + 1)
    return next(
        (n for n in near if hmac.compare_digest(totp.at(n * STEP_S).encode(), typed.encode("utf-8", "replace"))), None
    )


@transaction.atomic
def turn_on(user, secret, code):
    """Take a proven second factor; its spare codes, told this once. None where the code is not right."""
    step = step_of(secret, code, time.time())
    if step is None:
        return None
    spare = [f"{secrets.token_hex(2)}-{secrets.token_hex(2)}-{secrets.token_hex(2)}" for _ in range(SPARE)]
    SecondFactor.objects.filter(user=user).delete()
    SecondFactor.objects.create(
        user=user, secret=secret, since=timezone.now(), last_step=step, spare=[digest_of(each) for each in spare]
    )
    return spare


@transaction.atomic
def takes(user, code):
    """True for a code of somebody's second factor; each is taken once, a spare one for good."""
    row = SecondFactor.objects.filter(user=user).first()
    if row is None:
        return False
    step = step_of(row.secret, code, time.time())
    if step is not None:
        if step <= row.last_step:
            return False
        row.last_step = step
    else:
        digest = digest_of(code.strip().lower())
        if digest not in row.spare:
            return False
        row.spare = [each for each in row.spare if each != digest]
    row.save(update_fields=["last_step", "spare"])
    return True


def turn_off(user):
    """Take somebody's second factor away."""
    SecondFactor.objects.filter(user=user).delete()
