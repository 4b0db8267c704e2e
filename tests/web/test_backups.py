"""Backups: made whole, kept by rotation, put back only if every part of them is sound."""

import json
import os
import shutil
import signal
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from django.core.management import CommandError
from django.db import connections
from django.test import SimpleTestCase, TransactionTestCase

from emplastra.accounts.models import Session
from emplastra.jobs.models import Zone
from emplastra.logbook import services
from emplastra.logbook.models import Entry, Kind
from emplastra.shared import backup, clock, restoring, sealing, standing
from emplastra.shared.backup import DATABASE, MANIFEST, BackupError, digest_of, write_backup
from emplastra.shared.restoring import restore
from tests.base import DropTriggers, Shop, folded_states
from tests.serving import lay_out, manage


class Archive:
    """A sound backup, unpacked to be spoilt: its database, its other files, its list."""

    def __init__(self, sound, folder):
        self.folder, self.extra, self.drop, self.manifest = folder, [], set(), None
        with zipfile.ZipFile(sound) as archive:
            archive.extractall(folder)
        self.files = {DATABASE: folder / DATABASE, "media/photos/a.jpg": folder / "media/photos/a.jpg"}

    def sql(self, *statements):
        """Run statements in its database."""
        with closing(sqlite3.connect(self.folder / DATABASE)) as database:
            for statement in statements:
                database.execute(statement)
            database.commit()

    def put(self, name, content):
        """A further file."""
        path = self.folder / f"extra-{len(self.files)}"
        path.write_bytes(content)
        self.files[name] = path

    def zip(self, target):
        """Pack it with sums that are right, but where `manifest` says otherwise."""
        sums = {name: digest_of(path) for name, path in self.files.items()}
        told = {"format": backup.FORMAT, "made": "2026-05-12T10:00:00+00:00", "sha256": sums}
        told = self.manifest(told) if self.manifest else told
        with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
            if told is not None:
                archive.writestr(MANIFEST, told if isinstance(told, str) else json.dumps(told))
            for name, path in self.files.items():
                if name not in self.drop:
                    archive.write(path, name)
            for name, content in self.extra:
                archive.writestr(name, content)
        return target


def _bad_page(archive):
    path = archive.folder / DATABASE
    data = bytearray(path.read_bytes())
    data[len(data) // 2 : len(data) // 2 + 9000] = b"\xff" * 9000
    path.write_bytes(data)


def _set(archive, **told):
    archive.manifest = lambda manifest: {**manifest, **told}


def _without_database(archive):
    del archive.files[DATABASE]


def _database(archive, content):
    (archive.folder / DATABASE).write_bytes(content)


#: How an archive is spoilt, and a word of the one sentence that says so.
SPOILT = {
    "no database": (_without_database, "no database"),
    "no list": (lambda a: setattr(a, "manifest", lambda m: None), "no list"),
    "list is not JSON": (lambda a: setattr(a, "manifest", lambda m: "{"), "cannot be read"),
    "list is deep": (lambda a: setattr(a, "manifest", lambda m: "[" * 200_000), "cannot be read"),
    "list is a list": (lambda a: setattr(a, "manifest", lambda m: []), "form"),
    "sums are a list": (lambda a: _set(a, sha256=["a"]), "form"),
    "sums are numbers": (lambda a: _set(a, sha256={DATABASE: 5, "media/photos/a.jpg": 5}), "checksum"),
    "another form": (lambda a: _set(a, format="other/1"), "form"),
    "a sum is wrong": (lambda a: _set(a, sha256={DATABASE: "0" * 64, "media/photos/a.jpg": "0" * 64}), "checksum"),
    "a listed file is missing": (lambda a: a.drop.add("media/photos/a.jpg"), "other files"),
    "a file is not listed": (lambda a: a.extra.append(("media/b.jpg", "b")), "other files"),
    "a file twice": (lambda a: a.extra.append((DATABASE, "twice")), "twice"),
    "a path that climbs": (lambda a: a.put("media/../../climbed", b"x"), "out of place"),
    "an absolute path": (lambda a: a.put("/tmp/emplastra-absolute", b"x"), "out of place"),
    "a backslash": (lambda a: a.put("media\\..\\x", b"x"), "out of place"),
    "a secret key": (lambda a: a.put("secret-key", b"x"), "out of place"),
    "a second database": (lambda a: a.put(DATABASE + "-wal", b"x"), "out of place"),
    "grows without bound": (lambda a: a.put("media/zeros", bytes(150_000_000)), "unpack to"),
    "no SQLite file": (lambda a: _database(a, b"no database" * 900), "cannot be read"),
    "an empty file": (lambda a: _database(a, b""), "no such table"),
    "half a database": (lambda a: _database(a, (a.folder / DATABASE).read_bytes()[:20480]), "database"),
    "a broken page": (_bad_page, "database"),
    "a foreign trigger": (lambda a: a.sql("CREATE TRIGGER t AFTER INSERT ON accounts_user BEGIN DELETE FROM logbook_entry; END"), "trigger that is not ours"),
    "our trigger's name, other words": (
        lambda a: a.sql("DROP TRIGGER append_only_logbook_entry_update", "CREATE TRIGGER append_only_logbook_entry_update BEFORE UPDATE ON logbook_entry BEGIN SELECT 1; END"),
        "trigger that is not ours",
    ),
    "a view": (lambda a: a.sql("CREATE VIEW v AS SELECT * FROM accounts_user"), "view that is not ours"),
    "a virtual table": (lambda a: a.sql("CREATE VIRTUAL TABLE v USING fts5(x)"), "table that is not ours"),
    "a further table": (lambda a: a.sql("CREATE TABLE further (x)"), "other tables"),
    "a column is missing": (lambda a: a.sql("ALTER TABLE accounts_workshop DROP COLUMN currency"), "other tables"),
    "a unique key is missing": (lambda a: a.sql("CREATE TABLE n AS SELECT * FROM shared_submission", "DROP TABLE shared_submission", "ALTER TABLE n RENAME TO shared_submission"), "other tables"),
    "a table is missing": (lambda a: a.sql("DROP TABLE climate_reading"), "other tables"),
    "of a newer program": (lambda a: a.sql("INSERT INTO django_migrations (app, name, applied) VALUES ('jobs', '9999_later', '2030-01-01')"), "newer"),
    "a history with a hole": (lambda a: a.sql("DELETE FROM django_migrations WHERE app = 'accounts' AND name = '0001_initial'"), "up to date"),
    "no moment": (lambda a: setattr(a, "manifest", lambda m: {k: v for k, v in m.items() if k != "made"}), "when it was made"),
    "a moment of nowhere": (lambda a: _set(a, shows="2026-05-12T10:00:00"), "when it was made"),
    "keys that lead nowhere": (lambda a: a.sql("INSERT INTO accounts_user_groups (user_id, group_id) VALUES (77, 78)"), "not there"),
}  # fmt: skip
#: Files that are no zip of ours at all.
RUBBISH = {
    "sealed": sealing.MARK + bytes(200),
    "empty": b"",
    "text": b"no backup",
    "cut": None,
    "a zip's end alone": b"PK\x05\x06" + bytes(18),
}


class RecordCase:
    def cannot_be_changed(self, database):
        """A reading can be added and then neither changed nor deleted."""
        database.execute("INSERT INTO climate_place (name, kind, in_use) VALUES ('x', 'shop', 1)")
        database.execute("INSERT INTO climate_reading (place_id, at, air_c, rh_pct, recorded) VALUES (1, 0, 1, 1, 0)")
        for statement in ("UPDATE climate_reading SET air_c = 2", "DELETE FROM climate_reading"):
            with self.subTest(statement), self.assertRaisesRegex(sqlite3.IntegrityError, "append-only"):
                database.execute(statement)


class RestoreTests(RecordCase, DropTriggers, TransactionTestCase):
    """The database of the tests, backed up and put back."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)
        self.database = Path(connections["default"].settings_dict["NAME"])
        (self.folder / "from/photos").mkdir(parents=True)
        (self.folder / "from/photos/a.jpg").write_text("a photo")

    def sound(self):
        return write_backup(self.database, self.folder / "from", self.folder / "sound.zip")

    def workshop(self):
        """A workshop that must not change: its files with what is in them."""
        home = self.folder / "home"
        (home / "media").mkdir(parents=True, exist_ok=True)
        (home / "live.sqlite3").write_text("live")
        (home / "media/old.jpg").write_text("old")
        return home

    def files(self, home):
        return {str(p.relative_to(home)): p.read_bytes() for p in home.rglob("*") if p.is_file() and p.name != "in-use.lock"}  # fmt: skip

    def test_the_tables_of_the_models_are_those_of_the_migrations(self):
        """What an archive is held against is made without them, for speed."""
        self.assertEqual(restoring._expected(), restoring.structure_of(connections["default"]))

    def test_who_is_signed_in_is_in_no_backup(self):
        shop = Shop().build()
        self.addCleanup(clock.freeze, None)
        self.client.force_login(shop.user)
        key = Session.objects.get().session_key
        with zipfile.ZipFile(self.sound()) as archive:
            self.assertNotIn(key.encode(), archive.read(DATABASE))
        self.assertEqual(self.client.get("/more/").status_code, 200)

    def test_no_hostile_archive_changes_a_workshop(self):
        sound, home = self.sound(), self.workshop()
        before = self.files(home)

        def refused(source, word):
            with self.assertRaises(BackupError) as caught:
                restore(source, home / "live.sqlite3", home / "media")
            said = str(caught.exception)
            self.assertIn(word, said)
            self.assertNotIn("\n", said)
            self.assertEqual(self.files(home), before)
            self.assertEqual([p.name for p in home.iterdir() if "restor" in p.name], [])

        self.assertGreaterEqual(len(SPOILT) + len(RUBBISH), 30)
        for name, (spoil, word) in SPOILT.items():
            with self.subTest(name), tempfile.TemporaryDirectory() as folder:
                archive = Archive(sound, Path(folder))
                spoil(archive)
                refused(archive.zip(self.folder / "spoilt.zip"), word)
        for name, content in RUBBISH.items():
            with self.subTest(name):
                path = self.folder / "rubbish.zip"
                path.write_bytes(sound.read_bytes()[:-300] if content is None else content)
                refused(
                    path, {"a zip's end alone": "list", "sealed": "passphrase is needed"}.get(name, "no whole backup")
                )
        with self.subTest("a folder"):
            refused(self.folder, "no file")

    def test_a_sound_archive_replaces_the_workshop_and_what_was_is_kept(self):
        home = self.workshop()
        kept = restore(self.sound(), home / "live.sqlite3", home / "media")
        self.assertEqual((kept / "live.sqlite3").read_text(), "live")
        self.assertEqual((kept / "media/old.jpg").read_text(), "old")
        self.assertIsNone(restore(self.sound(), self.folder / "empty/live.sqlite3", self.folder / "empty/media"))
        self.assertEqual(
            sorted(p.name for p in (self.folder / "empty").iterdir()), ["in-use.lock", "live.sqlite3", "media"]
        )
        self.assertEqual([str(p.relative_to(home)) for p in (home / "media").rglob("*.jpg")], ["media/photos/a.jpg"])
        with closing(sqlite3.connect(home / "live.sqlite3")) as database:
            self.cannot_be_changed(database)

    def test_a_restore_waits_for_no_running_server_nor_another_program(self):
        sound, home = self.sound(), self.workshop()
        with standing.alone(home, "doing something else, at some length"):
            pass
        with (
            standing.alone(home, "being served"),
            self.assertRaisesRegex(CommandError, f"served by process {os.getpid()}"),
        ):
            restore(sound, home / "live.sqlite3", home / "media")
        shutil.copy(self.database, home / "live.sqlite3")
        with closing(sqlite3.connect(home / "live.sqlite3", isolation_level=None)) as other:
            other.execute("PRAGMA journal_mode=WAL")
            other.execute("BEGIN IMMEDIATE")
            with self.assertRaisesRegex(BackupError, "in use by another program"):
                restore(sound, home / "live.sqlite3", home / "media")
        self.assertEqual((home / "media/old.jpg").read_text(), "old")

    def test_every_zones_folded_state_is_the_same_after_a_restore(self):
        shop = Shop().build()
        self.addCleanup(clock.freeze, None)
        shop.tell(Kind.BARED, -5, -4, "s-strip")
        shop.coat(-3, -2)
        other = shop.make_zone("Roof")
        shop.tell(Kind.BARED, -1, -0.5, "s-strip", 0.7, zone=other)
        before = folded_states(Zone.objects.all())
        made = self.sound()
        services.void(shop.user, Entry.objects.of(Kind.COAT).get(), "after the backup")
        self.assertNotEqual(folded_states(Zone.objects.all()), before)
        connections.close_all()
        kept = restore(made, self.database, self.folder / "media")
        self.addCleanup(shutil.rmtree, kept)
        self.assertEqual(folded_states(Zone.objects.all()), before)
        self.assertEqual((self.folder / "media/photos/a.jpg").read_text(), "a photo")
        self.assertTrue((kept / self.database.name).exists())


class SealTests(SimpleTestCase):
    """A file sealed by a passphrase: opened whole by that one alone."""

    PASS = "seven wet panels"

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name)

    def sealed(self, data):
        (self.home / "plain").write_bytes(data)
        sealing.seal(self.home / "plain", self.home / "sealed", self.PASS)
        return (self.home / "sealed").read_bytes()

    def opened(self, data, passphrase=PASS):
        (self.home / "found").write_bytes(data)
        sealing.unseal(self.home / "found", self.home / "out", passphrase)
        return (self.home / "out").read_bytes()

    def test_what_was_sealed_comes_out(self):
        for size in (0, 1, (1 << 20) - 1, 1 << 20, (1 << 20) + 1):
            data = os.urandom(size)
            self.assertEqual(self.opened(self.sealed(data)), data)
        self.assertNotEqual(self.sealed(b"the same")[20:], self.sealed(b"the same")[20:])
        with self.assertRaisesRegex(ValueError, "at least 12"):
            sealing.seal(self.home / "plain", self.home / "sealed", "eleven char")

    def test_what_was_changed_does_not(self):
        """Two whole parts and one begun: changed in each region, cut at each border, parts swapped, doubled, left out."""
        whole = self.sealed(os.urandom((2 << 20) + 100))
        head, part = len(sealing.MARK) + 16 + 24, (1 << 20) + 17  # salt and header, sum: libsodium's own lengths
        self.assertEqual(len(whole), head + (2 << 20) + 100 + 3 * 17)
        self.assertTrue(sealing.is_sealed(self.home / "sealed"))
        one, two, three = whole[head : head + part], whole[head + part : head + 2 * part], whole[head + 2 * part :]
        flip = lambda at: whole[:at] + bytes([whole[at] ^ 1]) + whole[at + 1 :]  # noqa: E731
        for name, data in (
            ("mark", flip(0)), ("salt", flip(20)), ("head", flip(head - 1)), ("first part", flip(head + 5)), ("last byte", flip(len(whole) - 1)), ("empty", b""),
            ("no head", whole[: head - 1]), ("no parts", whole[:head]), ("cut after one", whole[:head] + one), ("cut after two", whole[:head] + one + two), ("cut inside", whole[:-1]),
            ("swapped", whole[:head] + two + one + three), ("left out", whole[:head] + one + three), ("doubled", whole[:head] + one + one + two + three), ("more", whole + one), ("a byte more", whole + b"x"),
        ):  # fmt: skip
            with self.subTest(name), self.assertRaises(sealing.Sealed):
                self.opened(data)
        for wrong in ("", "seven wet panel", self.PASS.upper()):
            with self.assertRaisesRegex(sealing.Sealed, "passphrase is not the one"):
                self.opened(whole, wrong)


class DrillTests(SimpleTestCase):
    """The drill on the demo, as its script runs it: the backup proves, and one that is not the workshop is told."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data = Path(folder.name)
        lay_out(self.data, "demo", ("collectstatic", "--noinput", "--verbosity", "0"), ("demo", "--load-only"))

    def run_drill(self, *arguments, **more):
        return manage(self.data, "drill", *arguments, profile="demo", **more)

    def sql(self, *statements):
        with closing(sqlite3.connect(self.data / DATABASE)) as database:
            for statement in statements:
                database.execute(statement)
            database.commit()
            return database.execute("SELECT count(*) FROM jobs_zone").fetchone()[0]

    def test_a_backup_is_proven_and_another_is_not(self):
        faces = self.sql()
        (self.data / "pass").write_text("seven wet panels\n")
        told = {"EMPLASTRA_BACKUP_PASSPHRASE_FILE": str(self.data / "pass")}
        status, said = manage(self.data, "backup", "--sealed", str(self.data / "b.sealed"), profile="demo", **told)
        self.assertEqual(status, 0, said)
        self.assertTrue(sealing.is_sealed(self.data / "b.sealed"))
        with self.subTest("sealed, and no passphrase"):
            self.assertIn("a passphrase is needed", self.run_drill(str(self.data / "b.sealed"))[1])
        with self.subTest("every face as it stood"):
            status, said = self.run_drill(str(self.data / "b.sealed"), **told)
            self.assertRegex(said, rf"\AProven: {faces} faces, \d\d tins and \d{{4}} rows")
            self.assertEqual(status, 0)
        with self.subTest("a film that is another, a row that is gone, a face renamed"):
            self.sql(
                "DROP TRIGGER append_only_logbook_coat_update",
                "DROP TRIGGER append_only_jobs_photo_delete",
                "UPDATE logbook_coat SET plan_um = plan_um * 2, wft_um = '[]'",
                "DELETE FROM jobs_photo WHERE id = (SELECT max(id) FROM jobs_photo)",
            )
            status, said = self.run_drill(str(self.data / "b.sealed"), **told)
            self.assertEqual(status, 1)
            self.assertRegex(said, r"face \d+: .*: layers and metal differ")
            self.assertRegex(said, r"jobs_photo: \d+ rows here, \d+ in the backup")
            self.assertIn("this backup is not the workshop", said)
        self.assertEqual([p.name for p in self.data.iterdir() if p.name.startswith((".drill", "before"))], [])


class Killed(BaseException):
    """As a power cut: nothing that was meant to come after it comes."""


class SwapTests(SimpleTestCase):
    OLD = {"live.sqlite3": "old", "media/a.jpg": "a", "media/b/b.jpg": "b"}
    NEW = {"live.sqlite3": "new", "media/b/b.jpg": "b", "media/c/c.jpg": "c"}

    def lay_out(self, folder, files):
        for name, content in files.items():
            (folder / name).parent.mkdir(parents=True, exist_ok=True)
            (folder / name).write_text(content)

    def swap(self, home, stop_after):
        """Swap the new in for the old, and stop before the next change to the file system; False if there was none."""
        unpacked, kept = home / "unpacked", home / "kept"
        self.lay_out(
            unpacked, {(backup.DATABASE if name == "live.sqlite3" else name): text for name, text in self.NEW.items()}
        )
        left = [stop_after]

        def counted(method):
            def act(path, *rest):
                if left[0] == 0:
                    raise Killed
                left[0] -= 1
                return method(path, *rest)

            return act

        changes = {name: counted(getattr(Path, name)) for name in ("replace", "hardlink_to", "unlink")}
        kept.mkdir(exist_ok=True)
        with mock.patch.multiple(Path, **changes):
            try:
                restoring._swap(unpacked, home / "live.sqlite3", home / "media", kept)
            except Killed:
                return True
        return False

    def test_a_disk_that_fails_leaves_nothing_kept_twice_and_nothing_lost(self):
        """By what was done before it failed: nothing, the old database linked, the new one put in place."""

        def nothing(unpacked, database, media, kept):
            raise OSError("no space left")

        def linked(unpacked, database, media, kept):
            (kept / database.name).hardlink_to(database)
            raise OSError("no space left")

        def replaced(unpacked, database, media, kept):
            (kept / database.name).hardlink_to(database)
            (unpacked / "new").replace(database)
            raise OSError("no space left")

        def unpack(source, folder, passphrase):
            (Path(folder) / "new").write_text("new")
            return Path(folder)

        for swap, now, kept in ((nothing, "old", 0), (linked, "old", 0), (replaced, "new", 1)):
            with self.subTest(swap.__name__), tempfile.TemporaryDirectory() as folder:
                home = Path(folder)
                self.lay_out(home, {"live.sqlite3": "old", "b.zip": "", ".restoring-killed/emplastra.sqlite3": "half"})
                with mock.patch.multiple(restoring, _swap=swap, read_backup=unpack), self.assertRaisesRegex(BackupError, "no space left"):  # fmt: skip
                    restore(home / "b.zip", home / "live.sqlite3", home / "media")
                self.assertEqual((home / "live.sqlite3").read_text(), now)
                self.assertEqual([p.read_text() for p in home.glob("before-restore-*/live.sqlite3")], ["old"] * kept)
                self.assertEqual(len(list(home.glob("before-restore-*"))), kept)
                self.assertEqual(list(home.glob(".restoring-*")), [])

    def test_stopped_at_any_moment_it_is_the_old_workshop_or_the_new_one(self):
        steps, seen = 0, []
        while True:
            with self.subTest(steps), tempfile.TemporaryDirectory() as folder:
                home = Path(folder)
                self.lay_out(home, self.OLD)
                stopped = self.swap(home, steps)
                which = {"old": self.OLD, "new": self.NEW}[(home / "live.sqlite3").read_text()]
                self.assertEqual({name: (home / name).read_text() for name in which}, which)
                seen.append((home / "live.sqlite3").read_text())
                shutil.rmtree(home / "kept")
                self.assertFalse(self.swap(home, 99))  # done again, it comes to its end
                found = {str(p.relative_to(home)): p.read_text() for p in home.rglob("*") if p.is_file() and "kept" not in p.parts and "unpacked" not in p.parts}  # fmt: skip
                self.assertEqual(found, self.NEW)
            if not stopped:
                break
            steps += 1
        self.assertEqual(sorted(seen, reverse=True), seen)  # old, old, … and from one moment on new
        self.assertEqual({seen[0], seen[-1]}, {"old", "new"})


class NightlyTests(SimpleTestCase):
    def test_the_newest_of_seven_days_five_weeks_and_twelve_months_are_kept(self):
        """Two a night for 500 nights. Days: the last 7. Weeks: the Sundays before. Months: the last nights of 11 more."""
        start = datetime(2025, 1, 1, 2, 0, tzinfo=UTC)
        nights = [start + timedelta(days=n, minutes=m) for n in range(500) for m in (0, 30)]
        paths = [Path(f"nightly-{moment:%Y%m%d-%H%M%S}.zip") for moment in nights]
        kept = set(paths) - set(backup.outdated([*paths, Path("nightly-holiday.zip")]))
        self.assertEqual(nights[-1].date(), datetime(2026, 5, 15).date())  # a Friday
        days = ["0515", "0514", "0513", "0512", "0511", "0510", "0509"]
        weeks = ["0503", "0426", "0419"]  # this week's and last week's newest are among the days
        months = ["0430", "0331", "0228", "0131"]
        expected = {f"nightly-2026{day}-023000.zip" for day in days + weeks + months}
        earlier = ["1231", "1130", "1031", "0930", "0831", "0731", "0630"]
        expected |= {f"nightly-2025{day}-023000.zip" for day in earlier}
        self.assertEqual({p.name for p in kept}, expected)

    def test_what_is_old(self):
        now = datetime(2026, 5, 12, tzinfo=UTC)
        for moment, old in ((None, True), (now - timedelta(hours=48), False), (now - timedelta(hours=49), True)):
            with self.subTest(moment):
                self.assertEqual(backup.is_old(moment, now), old)


class CommandTests(RecordCase, SimpleTestCase):
    """The commands behind the scripts, in a data folder of their own."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data = Path(folder.name)

    def manage(self, *arguments, status=0, **more):
        found, said = manage(self.data, *arguments, **more)
        self.assertEqual(found, status, said)
        return said

    def test_migrate_backs_up_first_and_a_restore_refuses_rubbish(self):
        self.assertEqual(self.manage("migrate_safely"), "")
        self.assertFalse((self.data / "backups").exists())
        self.manage("migrate", "bench", "--plan", status=1)
        self.manage("migrate", "sessions", "zero", "--verbosity", "0")
        self.assertIn("before migrating", self.manage("migrate_safely"))
        self.assertEqual(len(list((self.data / "backups").iterdir())), 1)
        self.assertIn("Backed up to", self.manage("backup", str(self.data / "b.zip")))
        self.assertIn("nightly-", self.manage("backup", "--nightly"))
        self.assertFalse(backup.is_old(backup.last_backup(self.data), datetime.now(UTC)))
        (self.data / "rubbish.zip").write_text("no")
        said = self.manage("restore", str(self.data / "rubbish.zip"), status=1)
        self.assertRegex(said, r"\ACommandError: .*no whole backup.*\n\Z")
        self.assertIn("Restored", self.manage("restore", str(self.data / "b.zip")))
        with closing(sqlite3.connect(self.data / DATABASE)) as database:
            told = database.execute("SELECT kind, name, words FROM accounts_securityevent").fetchall()
        self.assertEqual(told, [("restored", "the terminal", "from b.zip")])
        self.assertIn("nobody is called 'ghost'; there are: none yet", self.manage("let_in", "ghost", status=1))
        self.assertEqual(self.manage("migrate_safely"), "")
        with standing.alone(self.data, "being served"):
            self.assertIn("being served by process", self.manage("restore", str(self.data / "b.zip"), status=1))
        self.modes_are_private()
        (self.data / DATABASE).unlink()
        self.assertIn("Put one back", self.manage("migrate_safely", status=1))
        self.assertIn("cannot be read", self.manage("backup", str(self.data / "c.zip"), status=1))
        self.assertEqual([(self.data / name).exists() for name in (DATABASE, "c.zip")], [False, False])

    def modes_are_private(self):
        """Nothing in the data folder, nor the folder, is open to anybody else."""
        wide = [str(p) for p in [self.data, *self.data.rglob("*")] if p.stat().st_mode & 0o077 and p.name != "rubbish.zip"]  # fmt: skip
        self.assertEqual(wide, [])

    def test_a_folder_that_was_open_is_closed_at_the_next_start(self):
        lay_out(self.data, "lan")
        self.data.chmod(0o755)
        (self.data / DATABASE).chmod(0o644)
        self.manage("check")
        self.modes_are_private()

    def test_the_folder_is_closed_though_the_secret_is_kept_elsewhere(self):
        lay_out(self.data, "lan")
        (self.data / "secret-key").unlink()
        self.data.chmod(0o755)
        self.manage("check", profile="production", EMPLASTRA_SECRET_KEY="k" * 60)
        self.modes_are_private()
        self.assertFalse((self.data / "secret-key").exists())

    def test_a_killed_migration_leaves_the_record_protected_after_the_next_start(self):
        """Killed between the last migration and the triggers, as on_post_migrate would have made them."""
        killed = (
            "import os, signal, django; django.setup()\n"
            "from emplastra.shared import appendonly\n"
            "appendonly.make_triggers = lambda *_: os.kill(os.getpid(), signal.SIGKILL)\n"
            "from django.core.management import call_command; call_command('migrate', verbosity=0)"
        )
        self.assertEqual(manage(self.data, code=killed)[0], -signal.SIGKILL)
        path = self.data / DATABASE
        with closing(sqlite3.connect(path)) as database:
            find = "SELECT count(*) FROM sqlite_master WHERE type = 'trigger'"
            self.assertEqual(database.execute(find).fetchone()[0], 0)
            self.manage("migrate_safely")
            self.cannot_be_changed(database)

    def test_the_secret_is_kept_and_private(self):
        self.manage("check")
        path = self.data / "secret-key"
        first = path.read_text()
        self.manage("check")
        self.assertEqual((path.read_text(), path.stat().st_mode & 0o77, len(first)), (first, 0, 100))

    def test_accounts_of_the_demo_are_in_the_demo_only(self):
        lay_out(self.data, "lan")
        self.assertIn(
            "0", self.manage("shell", "-c", "from emplastra.accounts.models import User; print(User.objects.count())")
        )
        self.manage("demo", "--load-only", status=1)
