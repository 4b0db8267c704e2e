"""Work that takes longer than a second: a row that says how far it is, and a child process that does it.

A program of the core knows no database: it writes JSON lines, and what it found is its task's result. A work is a
function of the application, run by `manage.py work`: it lands in one transaction with the word that it is done.
"""

import contextlib
import json
import os
import secrets
import subprocess
import sys
import threading
from pathlib import Path

from django.conf import settings
from django.db import connection, connections, transaction

from . import clock
from .files import write_whole
from .models import Task
from .services import Refused

BOOT = secrets.token_hex(8)
"""This run of the server: a task of another run has lost its process."""
FOLLOWS = "follows a task"
_GONE = "was begun by an earlier run of the server, which has stopped meanwhile"
_running: dict[int, subprocess.Popen] = {}


class Failed(Exception):
    """A work cannot be done: why, and every place (line or 0, what is wrong with it)."""

    def __init__(self, words, problems=()):
        super().__init__(words)
        self.problems = list(problems)


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


def keep_bytes(data, suffix):
    """Bytes put there, for this user alone to read; their path."""
    path = folder() / f"{secrets.token_hex(12)}.{suffix}"
    write_whole(path, data)
    return path


def program(user, kind, module, path, *arguments, about):
    """Begin a task: `python -m module path *arguments`, which writes JSON lines. The file goes when it ends.

    about: what its page says: `doing` and `file`, `back` (where it may be begun again), `view` (its own page's name).
    """
    return _start(user, kind, about, ["-m", module, str(path), *arguments], path)


def work(user, kind, function, about, path=None):
    """Begin a task: `function(task, say)`, of the application, in a process of its own. A file given goes when it
    ends.

    The function tells `say(share done, words)`, and writes all it writes inside `landing(task)`; it raises Refused or
    Failed. about: as for a program, and what the function needs.
    """
    name = f"{function.__module__}.{function.__qualname__}"
    command = [str(settings.BASE_DIR / "manage.py"), "work", name, "--database", connection.settings_dict["NAME"]]
    if settings.CLOCK_MAY_DIFFER:
        command += ["--now", clock.now().isoformat()]
    return _start(user, kind, about | ({"path": str(path)} if path else {}), command, path, told=True)


def _start(user, kind, about, command, path, told=False):
    """The process begins once the task's row is there for all: in a transaction, when that is committed.

    Raises Refused where too many of this person's run already.
    """
    if Task.objects.filter(user=user, state=Task.State.RUNNING, boot=BOOT).count() >= settings.WORKS_AT_ONCE:
        raise Refused(f"{settings.WORKS_AT_ONCE} works of yours run already: wait until one has ended, or stop it")
    task = Task.objects.create(user=user, kind=kind, boot=BOOT, about=about)
    transaction.on_commit(lambda: _spawn(task.pk, [*map(str, command), *([str(task.pk)] if told else [])], path))
    return task


def _spawn(pk, command, path):
    quiet = dict.fromkeys(("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"), "1")
    child = subprocess.Popen(
        [sys.executable, *command],
        stdout=subprocess.PIPE,
        text=True,
        cwd=settings.BASE_DIR,
        env={**os.environ, **quiet},
    )
    _running[pk] = child
    threading.Thread(target=_follow, args=(pk, child, path), name=FOLLOWS, daemon=True).start()


def followers():
    """Threads that follow a child."""
    return [thread for thread in threading.enumerate() if thread.name == FOLLOWS]


TOO_LARGE = "is too large to be worked on here, or broken: make it smaller"
"""What is said of a file whose work ended without a word."""


def _follow(pk, child, path):
    """Take down what the child says until it ends."""
    rows = Task.objects.filter(pk=pk, state=Task.State.RUNNING)
    try:
        for line in child.stdout:
            said = json.loads(line)
            if "report" in said:
                rows.update(state=Task.State.DONE, done=1.0, words="", result=said["report"])
            elif "error" in said:
                rows.update(state=Task.State.FAILED, words=said["error"], result={"problems": said.get("problems", [])})
            else:
                rows.update(done=said["done"], words=said["words"])
        child.wait()
        # One that landed, or said why it cannot, runs no longer by its row.
        words = "was stopped before it was done: begin it again" if path is None else TOO_LARGE
        rows.update(state=Task.State.FAILED, words=words)
    finally:
        _running.pop(pk, None)
        if path is not None:
            with contextlib.suppress(OSError):
                Path(path).unlink()
        connections.close_all()


@contextlib.contextmanager
def landing(task):
    """One transaction for all that a work writes and the word that it is done; what it gives goes into the dict.

    Keys of it: `words`, a sentence, and `url` with `go`, where one goes on. Raises Failed, with nothing written, where
    the task was stopped or given up meanwhile.
    """
    result = {}
    with transaction.atomic():
        yield result
        rows = Task.objects.filter(pk=task.pk, state=Task.State.RUNNING)
        if not rows.update(state=Task.State.DONE, done=1.0, words="", result=result):
            raise Failed("was stopped")


def cancel(task):
    """Stop a task's process; one that has landed meanwhile stays done."""
    Task.objects.filter(pk=task.pk, state=Task.State.RUNNING).update(state=Task.State.CANCELLED, words="was stopped")
    child = _running.get(task.pk)
    if child is not None:
        child.kill()


def clear_leftovers():
    """Give up tasks of an earlier run of the server, and drop the files kept for them; asked once, at the start.

    A child that outlived its server finds its task given up, and writes nothing.
    """
    Task.objects.filter(state=Task.State.RUNNING).exclude(boot=BOOT).update(state=Task.State.FAILED, words=_GONE)
    for path in folder().iterdir():
        with contextlib.suppress(OSError):
            path.unlink()


def as_it_stands(task):
    """A task as it stands: one that runs by its row, but whose process went with an earlier run, has failed."""
    if task.state == Task.State.RUNNING and task.boot != BOOT:
        task.state, task.words = Task.State.FAILED, _GONE
    return task
