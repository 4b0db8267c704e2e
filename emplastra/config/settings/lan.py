"""A workshop's own network: plain HTTP, private addresses only, and the page says so."""

import ipaddress
import os

from .base import *  # noqa: F403
from .base import DATA_DIR, secret_key

PROFILE = "lan"
SECRET_KEY = secret_key(DATA_DIR)


class _PrivateHosts(list):
    """Any private address as a host, and the names given in EMPLASTRA_HOSTS."""

    def __iter__(self):
        yield from ["localhost", *filter(None, os.environ.get("EMPLASTRA_HOSTS", "").split(","))]
        yield from (str(address) for address in own_addresses())


def own_addresses() -> list:
    """Private addresses of this machine."""
    import socket

    found = {"127.0.0.1"}
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            probe.connect(("192.0.2.1", 9))  # no packet is sent: this asks which address would be used
            found.add(probe.getsockname()[0])
        found.update(info[4][0] for info in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET))
    except OSError:
        pass
    return sorted(a for a in map(ipaddress.ip_address, found) if a.is_private)


ALLOWED_HOSTS = list(_PrivateHosts())
