"""Carrying out what a form sends: once, whole, or not at all."""

import hashlib
import inspect
import json
import secrets
from contextlib import contextmanager
from functools import wraps

from django.db import transaction
from django.utils.crypto import salted_hmac

from emplastra.core.errors import FieldError

from .models import Submission


class AlreadyRecorded(Exception):
    """The token was used before with other values."""

    def __init__(self, submission):
        super().__init__("already recorded with other values")
        self.submission = submission


class Refused(Exception):
    """The action cannot be done; `field` names what is wrong (None: the whole), the text what would do."""

    def __init__(self, message, field=None):
        super().__init__(message)
        self.field = field


@contextmanager
def as_refused(field=None):
    """Refuse what the core says cannot be, by its own field or by the form's that stands for it."""
    try:
        yield
    except FieldError as error:
        raise Refused(str(error), field or error.field) from error


def new_token():
    """A token for a form."""
    return secrets.token_urlsafe(18)


SECRETS = ("password", "passphrase", "code")
"""Fields whose names begin so hold what nobody keeps."""


def _keyed(value):
    return salted_hmac("emplastra.payload", json.dumps(value, default=str)).hexdigest()


def payload_hash(payload):
    """Hash of what was typed, without the token and what the browser adds. What is secret goes into it by this
    installation's key alone: nobody who finds the hash can try passwords on it.
    """
    left = {"token", "csrfmiddlewaretoken", "confirm_old", "as_new", "seen"}
    kept = {k: _keyed(v) if k.startswith(SECRETS) else v for k, v in payload.items() if k not in left}
    return hashlib.sha256(json.dumps(kept, sort_keys=True, default=str).encode()).hexdigest()


def writes(service):
    """Mark a service that records what its `user` does: who may only look is refused, wherever it is called from."""
    place = list(inspect.signature(service).parameters).index("user")

    @wraps(service)
    def checked(*args, **kwargs):
        user = args[place] if len(args) > place else kwargs.get("user")
        if user is not None and not user.may_write:
            raise Refused(f"{user} may look, and change nothing: ask an owner")
        return service(*args, **kwargs)

    checked.needs_the_right_to_write = True
    return checked


def owners_only(service):
    """Mark a service that an owner alone asks for, as its `user`; nobody (None) is the program itself."""
    place = list(inspect.signature(service).parameters).index("user")

    @wraps(service)
    def checked(*args, **kwargs):
        user = args[place] if len(args) > place else kwargs.get("user")
        if user is not None and not user.is_owner:
            raise Refused("only an owner may do that")
        return service(*args, **kwargs)

    checked.needs_the_right_to_write = True
    return checked


def once(user, token, action, payload, do):
    """Carry out `do()` in one transaction and give the URL it returns; a repeat gives the first one's.

    The transaction takes the write lock as it begins, so two equal tokens cannot both find none.
    Raises AlreadyRecorded for the same token with other values, and what `do` raises.
    """
    digest = payload_hash(payload)
    with transaction.atomic():
        earlier = Submission.objects.filter(token=token).first()
        if earlier is not None:
            if earlier.user_id != user.pk or earlier.payload_hash != digest:
                raise AlreadyRecorded(earlier)
            return earlier.result_url
        url = do()
        Submission.objects.create(token=token, user=user, action=action, payload_hash=digest, result_url=url)
    return url
