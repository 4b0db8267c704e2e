"""A real server of the production profile in a process of its own, and a real reverse proxy before it."""

import atexit
import os
import re
import shutil
import socket
import subprocess
import sys
import tempfile
from contextlib import closing
from functools import cache
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PROXY = """
daemon off; master_process off; pid {folder}/nginx.pid; error_log stderr error;
events {{ worker_connections 64; }}
http {{
  access_log off; client_max_body_size 41m;
  client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy; fastcgi_temp_path {folder}/f; uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
  server {{
    listen 127.0.0.1:{tls} ssl;
    ssl_certificate {folder}/tls.pem; ssl_certificate_key {folder}/tls.key;
    location / {{
      proxy_pass http://127.0.0.1:{port};
      proxy_set_header Host $http_host;
      proxy_set_header X-Forwarded-For $proxy_add_x_forwarded_for;
      proxy_set_header X-Forwarded-Proto $scheme;
    }}
  }}
}}
"""


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
def _migrated(profile, *more):
    """A data folder after `migrate_safely` and further commands, made once."""
    folder = tempfile.mkdtemp()
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    for command in (("migrate_safely",), *more):
        status, said = manage(folder, *command, profile=profile)
        assert status == 0, said
    return folder


def lay_out(folder, profile, *more):
    """Fill a data folder as `migrate_safely` and further commands would."""
    shutil.copytree(_migrated(profile, *more), folder, dirs_exist_ok=True)


class Served:
    """`script/serve production` without its script: a fresh workshop, its port and its first-run code."""

    def __init__(self, case, **env):
        self.case, self.folder, self.port = case, Path(tempfile.mkdtemp()), free_port()
        case.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.env = {k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"} | {
            "EMPLASTRA_DATA": str(self.folder / "data"),
            "EMPLASTRA_HOSTS": "127.0.0.1",
            "DJANGO_SETTINGS_MODULE": "emplastra.config.settings.production",
            **env,
        }
        lay_out(self.folder / "data", "production")
        self.run("collectstatic", "--noinput", "--verbosity", "0")
        self.server = self.start(sys.executable, "manage.py", "serve", "--port", str(self.port))
        self.code = ""
        for line in self.server.stdout:
            self.code = self.code or (re.search(r"code: (\S+)", line) or ["", ""])[1]
            if "Serving" in line:
                return
        case.fail("the server did not start")

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
        tls = free_port()
        subprocess.run(
            ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=127.0.0.1",
             "-keyout", self.folder / "tls.key", "-out", self.folder / "tls.pem"],
            check=True, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        conf = self.folder / "nginx.conf"
        conf.write_text(PROXY.format(folder=self.folder, port=self.port, tls=tls))
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
