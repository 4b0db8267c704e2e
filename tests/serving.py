"""A real server of the production profile in a process of its own, and a real reverse proxy before it."""

import atexit
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
from contextlib import closing
from functools import cache
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SHIPPED = ROOT / "deploy/nginx.conf"
AROUND = """
daemon off; master_process off; pid {folder}/nginx.pid; error_log stderr error;
events {{ worker_connections 64; }}
http {{
  access_log off;
  client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy; fastcgi_temp_path {folder}/f; uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
{shipped}
}}
"""


def proxy_of(folder, port, tls, plain):
    """The configuration that is shipped, with this machine's ports, name and certificate in it."""
    told = SHIPPED.read_text()
    for was, now in (
        ("  listen [::]:80;\n", ""), ("  listen [::]:443 ssl;\n", ""), ("listen 80;", f"listen 127.0.0.1:{plain};"), ("listen 443 ssl;", f"listen 127.0.0.1:{tls} ssl;"),
        ("/etc/ssl/certs/shop.example.pem", f"{folder}/tls.pem"), ("/etc/ssl/private/shop.example.key", f"{folder}/tls.key"), ("127.0.0.1:8000", f"127.0.0.1:{port}"),
        ("shop.example", "127.0.0.1"),
    ):  # fmt: skip
        assert was in told, was
        told = told.replace(was, now)
    return AROUND.format(folder=folder, shipped=told)


def free_port():
    """A port on loopback that nobody listens on."""
    with closing(socket.socket()) as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def manage(data, *arguments, code="", profile="lan", **more):
    """A command in a data folder of its own (code: Python instead), with more of an environment; (exit status, what it printed)."""
    env = {k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"}
    env |= {"EMPLASTRA_DATA": str(data), "EMPLASTRA_DEMO_DATA": str(data)}
    env |= {"DJANGO_SETTINGS_MODULE": f"emplastra.config.settings.{profile}", "EMPLASTRA_HOSTS": "127.0.0.1", **more}
    command = [sys.executable, *(("-c", code) if code else ("manage.py", *arguments))]
    done = subprocess.run(command, cwd=ROOT, env=env, capture_output=True, text=True)
    return done.returncode, done.stdout + done.stderr


@cache
def _migrated():
    """A data folder after `migrate_safely`, made once."""
    folder = tempfile.mkdtemp()
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    _surely(folder, "lan", "migrate_safely")
    return folder


@cache
def _laid_out(profile, *more):
    """The same after further commands of a profile."""
    folder = tempfile.mkdtemp()
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    shutil.copytree(_migrated(), folder, dirs_exist_ok=True)
    for command in more:
        _surely(folder, profile, *command)
    return folder


def _surely(folder, profile, *command):
    status, said = manage(folder, *command, profile=profile)
    assert status == 0, said


def lay_out(folder, profile, *more):
    """Fill a data folder as `migrate_safely` and further commands would."""
    shutil.copytree(_laid_out(profile, *more), folder, dirs_exist_ok=True)


class Served:
    """`script/serve production` without its script: a fresh workshop (or one laid out by a profile and commands), its
    port and its first-run code.
    """

    def __init__(self, case, laid=("production",), **env):
        self.case, self.folder, self.port = case, Path(tempfile.mkdtemp()), free_port()
        case.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.env = {k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"} | {
            "EMPLASTRA_DATA": str(self.folder / "data"),
            "EMPLASTRA_HOSTS": "127.0.0.1",
            "DJANGO_SETTINGS_MODULE": "emplastra.config.settings.production",
            **env,
        }
        lay_out(self.folder / "data", *laid)
        self.run("collectstatic", "--noinput", "--verbosity", "0")
        self.code, self.said = "", []
        self.serve()

    def serve(self):
        """Serve it, and wait until it answers; what it said is kept."""
        self.server = self.start(sys.executable, "manage.py", "serve", "--port", str(self.port))
        for line in self.server.stdout:
            self.said.append(line)
            self.code = self.code or (re.search(r"code: (\S+)", line) or ["", ""])[1]
            if "Serving" in line:
                return
        self.case.fail(f"the server did not start: {''.join(self.said)}")

    def stop(self):
        """Stop serving, as a service is stopped."""
        self.server.send_signal(signal.SIGINT)
        self.server.wait()

    def run(self, *arguments, check=True):
        """A command of the workshop's, as it ended."""
        command = [sys.executable, "manage.py", *arguments]
        return subprocess.run(command, cwd=ROOT, env=self.env, check=check, capture_output=True, text=True)

    def start(self, *command):
        """A process that ends with the test."""
        process = subprocess.Popen(command, cwd=ROOT, env=self.env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)  # fmt: skip

        def stop():
            process.kill()
            process.wait()
            process.stdout.close()

        self.case.addCleanup(stop)
        return process

    def behind_proxy(self):
        """Put the proxy before it; the address that answers over TLS."""
        tls, self.plain = free_port(), free_port()
        subprocess.run(
            ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=127.0.0.1",
             "-keyout", self.folder / "tls.key", "-out", self.folder / "tls.pem"],
            check=True, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        conf = self.folder / "nginx.conf"
        conf.write_text(proxy_of(self.folder, self.port, tls, self.plain))
        proxy = self.start(shutil.which("nginx") or "/usr/sbin/nginx", "-p", str(self.folder), "-c", str(conf))
        while proxy.poll() is None:
            with closing(socket.socket()) as probe:
                if probe.connect_ex(("127.0.0.1", tls)) == 0:
                    return f"https://127.0.0.1:{tls}"
        self.case.fail(f"the proxy did not start: {proxy.stdout.read()}")

    def ask(self, *lines, times=1):
        """What the server answers, raw, to one request written `times` over one connection."""
        head = "\r\n".join([lines[0], "Host: 127.0.0.1", *lines[1:]]).encode()
        with closing(socket.create_connection(("127.0.0.1", self.port), timeout=20)) as wire:
            wire.sendall((head + b"\r\n\r\n") * (times - 1) + head + b"\r\nConnection: close\r\n\r\n")
            found = b""
            while chunk := wire.recv(65536):
                found += chunk
        return found.decode("utf-8", "replace")
