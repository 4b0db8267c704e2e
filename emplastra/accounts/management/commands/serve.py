"""Serve the workshop with waitress; print the first-run code, and for a phone the address."""

import contextlib
import io

import segno
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.core.servers.basehttp import get_internal_wsgi_application
from waitress import create_server

from emplastra.accounts import leftovers, setup
from emplastra.accounts.models import User
from emplastra.shared import ready, tasks
from emplastra.shared.standing import served

MAX_BODY = 201_000_000
"""Nothing longer is read off the wire [bytes]: the largest archive and what goes with it."""


def serve(host, port, out, greet=lambda: None):
    """Serve until interrupted. waitress keeps 8 threads; the address is printed once it listens.

    greet: what is said first, once the folder is this server's own: another server's code stays good.
    """
    with served(), contextlib.suppress(KeyboardInterrupt):
        tasks.clear_leftovers()
        leftovers.clear()
        greet()
        # Which proxies are believed is settled in the application, so waitress leaves their headers alone.
        server = create_server(
            get_internal_wsgi_application(),
            host=host,
            port=port,
            threads=8,
            max_request_body_size=MAX_BODY,
            clear_untrusted_proxy_headers=False,
        )
        out.write(f"Serving on http://{host}:{port}/  (Ctrl-C stops)")
        out.flush()
        server.run()
    out.write("Stopped.")


class Command(BaseCommand):
    help = "Serve the workshop."

    def add_arguments(self, parser):
        parser.add_argument("--host", default="0.0.0.0" if settings.PROFILE == "lan" else "127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args, **options):
        host, port = options["host"], options["port"]
        if settings.PROFILE == "production":
            self._say_what_is_missing()
        serve(host, port, self.stdout, lambda: self._greet(host, port))

    def _say_what_is_missing(self):
        """Every lack on a line of its own. Raises CommandError where one of them stops."""
        lacks = ready.lacks()
        for lack in lacks:
            self.stderr.write(f"{'Missing' if lack.stops else 'Note'}: {lack.words}.")
        if any(lack.stops for lack in lacks):
            raise CommandError("not served: see what is missing above, and docs/serving.md")

    def _greet(self, host, port):
        if not User.objects.exists():
            self.stdout.write(f"First run. One-time code: {setup.issue_code()}")
        if settings.PROFILE == "lan":
            self._print_addresses(host, port)

    def _print_addresses(self, listens_on, port):
        """Addresses that a phone reaches: those of this machine's that are listened on."""
        own = [h for h in settings.ALLOWED_HOSTS if h[0].isdigit() and not h.startswith("127.")]
        for host in [h for h in own if listens_on in {h, "0.0.0.0", "::"}]:
            url = f"http://{host}:{port}/"
            drawn = io.StringIO()
            segno.make(url).terminal(out=drawn, compact=True)
            self.stdout.write(f"For the phone, in the same network: {url}\n{drawn.getvalue()}")
