"""An address for a new password from the terminal, for whoever runs the machine and cannot get in."""

from django.core.management.base import BaseCommand, CommandError
from django.urls import reverse

from emplastra.accounts import services
from emplastra.accounts.models import Happening, User
from emplastra.accounts.security import note
from emplastra.shared.services import Refused


class Command(BaseCommand):
    help = (
        "Make an address by which NAME chooses a new password: it opens once, and holds for 24 hours. "
        "With --factor, the second factor is taken away too."
    )

    def add_arguments(self, parser):
        parser.add_argument("name")
        parser.add_argument("--factor", action="store_true")

    def handle(self, *args, **options):
        try:
            person = User.objects.get_by_natural_key(options["name"])
            secret = services.link_for_password(None, person)
        except User.DoesNotExist as error:
            names = ", ".join(User.objects.order_by("id").values_list("username", flat=True))
            raise CommandError(f"nobody is called {options['name']!r}; there are: {names or 'none yet'}") from error
        except Refused as error:
            raise CommandError(f"{person} {error}") from error
        note(Happening.LINK, about=person, words="made at the terminal", name="the terminal")
        if options["factor"]:
            services.factor.turn_off(person)
            note(Happening.FACTOR, about=person, words="taken away at the terminal", name="the terminal")
        path = reverse("accounts:choose-password", args=[secret])
        self.stdout.write(f"Open this once, within 24 hours, at the workshop’s own address: {path}")
