"""A workshop's own network: plain HTTP, private addresses only, and the page says so."""

import ipaddress
import os
import socket

from .base import *  # noqa: F403
from .base import DATA_DIR, own_folder, secret_key

PROFILE = "lan"
SECRET_KEY = secret_key(own_folder(DATA_DIR))


def own_addresses() -> list:
    """Private addresses of this machine."""
    found = {"127.0.0.1"}
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            probe.connect(("192.0.2.1", 9))  # no packet is sent: this asks which address would be used
            found.add(probe.getsockname()[0])
        found.update(info[4][0] for info in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET))
    except OSError:
        pass
    return sorted(a for a in map(ipaddress.ip_address, found) if a.is_private)


ALLOWED_HOSTS = [
    "localhost",
    *filter(None, os.environ.get("EMPLASTRA_HOSTS", "").split(",")),
    *map(str, own_addresses()),
]
