"""What a workshop that is served for others still lacks, said before it is served."""

import ipaddress
import os
import shutil
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings
from django.core import checks

from . import backup

_TOLD = "security.W020"
"""No host: said in our own words."""
FREE = 500_000_000
"""With less of the disk than this free [bytes] it is said."""


@dataclass(frozen=True)
class Lack:
    """Something that is missing, with what would do; stops: nothing is served without it."""

    words: str
    stops: bool = False


def lacks():
    """Every Lack of the production profile, those that stop first."""
    found = [*_hosts(), *_proxies(), *_static(), *_keeping(), *_django()]
    return sorted(found, key=lambda lack: not lack.stops)


def _hosts():
    if not settings.ALLOWED_HOSTS:
        yield Lack("EMPLASTRA_HOSTS is empty: name the hosts that people type, as EMPLASTRA_HOSTS=shop.example", True)
    for host in settings.ALLOWED_HOSTS:
        if "*" in host or "/" in host:
            yield Lack(f"EMPLASTRA_HOSTS has {host!r}: name each host as it is typed, without https://", True)


def _proxies():
    for each in settings.PROXIES:
        try:
            ipaddress.ip_network(each)
        except ValueError:
            yield Lack(f"EMPLASTRA_PROXIES has {each!r}: give addresses or networks, as 127.0.0.1 or 10.0.0.0/8", True)


def _static():
    if not (Path(settings.STATIC_ROOT) / "staticfiles.json").exists():
        yield Lack("the styles and scripts are not gathered yet: run script/serve --ready", True)


def _keeping():
    if hasattr(os, "geteuid") and os.geteuid() == 0:
        yield Lack("it runs as root: give it a user of its own, as in deploy/emplastra.service")
    last = backup.last_backup(settings.DATA_DIR)
    if backup.is_old(last, datetime.now(UTC)):
        made = "was made yet" if last is None else f"was made since {last:%d %B %Y}"
        yield Lack(f"no backup {made}: set up script/backup --nightly, as in deploy/emplastra-backup.timer")
    free = shutil.disk_usage(settings.DATA_DIR).free
    if free < FREE:
        yield Lack(f"{free // 1_000_000} MB are free where the data lies: make room")


def _django():
    """What Django's own check for deployment says."""
    for message in checks.run_checks(include_deployment_checks=True):
        if message.level >= checks.WARNING and message.id != _TOLD:
            hint = f" ({message.hint})" if message.hint else ""
            yield Lack(f"{message.msg}{hint}", message.level >= checks.ERROR)
