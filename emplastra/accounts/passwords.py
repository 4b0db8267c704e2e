"""What a password must not be: beside Django's own rules (length, lists of common ones), not made of names."""

import re

from django.core.exceptions import ValidationError

from .names import name_key

_SHORTEST_NAME = 4


class NotMadeOfNames:
    """Refuses a password that is mostly a name: the person's, the workshop's or this program's."""

    def validate(self, password, user=None):
        """Raises ValidationError."""
        from .models import Workshop

        names = [getattr(user, "username", "") or "", Workshop.current().name, "emplastra"]
        plain = _letters(password)
        for word in {_letters(part) for name in names for part in [name, *name.split()]}:
            if len(word) >= _SHORTEST_NAME and word in plain and len(plain) - len(word) < 8:
                raise ValidationError("is mostly a name: choose one that nobody who knows you would try")

    def get_help_text(self):
        """For a form."""
        return "Not made of your name or the workshop’s."


def _letters(text):
    return re.sub(r"[\W_]", "", name_key(text))
