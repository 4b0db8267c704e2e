"""Work that takes longer than a second: a row that says how far it is, and a child process that does it."""

import contextlib
import json
import os
import secrets
import subprocess
import sys
import threading
from pathlib import Path

from django.conf import settings
from django.db import connections, transaction

from .models import Task

BOOT = secrets.token_hex(8)
"""This run of the server: a task of another run has lost its process."""
FOLLOWS = "follows a task"
_running: dict[int, subprocess.Popen] = {}


def folder():
    """Where files wait for their child process."""
    path = Path(settings.DATA_DIR) / "tasks"
    path.mkdir(parents=True, exist_ok=True)
    return path


def keep(upload, suffix):
    """An uploaded file put there; its path."""
    path = folder() / f"{secrets.token_hex(12)}.{suffix}"
    with path.open("wb") as out:
        for chunk in upload.chunks():
            out.write(chunk)
    return path


def start(user, kind, module, path, *arguments, about=None):
    """Begin a task: `python -m module path *arguments`, which writes JSON lines. The file goes when it ends.

    The process begins once the task's row is there for all: in a transaction, when that is committed.
    """
    task = Task.objects.create(user=user, kind=kind, boot=BOOT, about=about or {})
    transaction.on_commit(lambda: _spawn(task.pk, module, path, arguments))
    return task


def _spawn(pk, module, path, arguments):
    quiet = dict.fromkeys(("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"), "1")
    child = subprocess.Popen(
        [sys.executable, "-m", module, str(path), *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        cwd=settings.BASE_DIR,
        env={**os.environ, **quiet},
    )
    _running[pk] = child
    threading.Thread(target=_follow, args=(pk, child, path), name=FOLLOWS, daemon=True).start()


def followers():
    """Threads that follow a child."""
    return [thread for thread in threading.enumerate() if thread.name == FOLLOWS]


def _follow(pk, child, path):
    """Take down what the child says until it ends."""
    rows, ended = Task.objects.filter(pk=pk, state=Task.State.RUNNING), False
    try:
        for line in child.stdout:
            said = json.loads(line)
            if "report" in said:
                rows.update(state=Task.State.DONE, done=1.0, words="", result=said["report"])
                ended = True
            elif "error" in said:
                rows.update(state=Task.State.FAILED, words=said["error"])
                ended = True
            else:
                rows.update(done=said["done"], words=said["words"])
        child.wait()
        if not ended:
            rows.update(state=Task.State.FAILED, words="is too large to be worked on here, or broken: make it smaller")
    finally:
        _running.pop(pk, None)
        with contextlib.suppress(OSError):
            Path(path).unlink()
        connections.close_all()


def cancel(task):
    """Stop a task's process."""
    Task.objects.filter(pk=task.pk, state=Task.State.RUNNING).update(state=Task.State.CANCELLED, words="stopped")
    child = _running.get(task.pk)
    if child is not None:
        child.kill()


def clear_leftovers():
    """Drop the files that an earlier run of the server kept for a child that is gone; asked once, at the start."""
    for path in folder().iterdir():
        with contextlib.suppress(OSError):
            path.unlink()


def is_dead(task):
    """True if it runs by its row, but its process went with an earlier run of the server."""
    return task.state == Task.State.RUNNING and task.boot != BOOT
