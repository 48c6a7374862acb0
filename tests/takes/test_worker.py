"""A worker on a database that others have locked: it waits, lives on, and does nothing twice."""

from __future__ import annotations

import shutil
import sqlite3
import subprocess
import sys
import threading
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any
from unittest import mock

from django.db import OperationalError, connection, connections
from django.test import SimpleTestCase, TransactionTestCase, tag
from django.utils import timezone
from django_tasks_db import utils
from django_tasks_db.management.commands import db_worker
from django_tasks_db.models import DBTaskResult

from sulvet.band.services import StudentFacts, add_student, band_of
from sulvet.takes import jobs, tasks, waiting, worker
from sulvet.takes.models import Take
from sulvet.takes.queue import enqueue
from tests import stored_readings
from tests.base import TODAY, make_teacher, sqlite_alone


class ServerError(Exception):
    """As a driver of a server's has it."""

    sqlstate: str | None


LOCKED = OperationalError("database is locked")


@tag("database")
class PatientlyTests(SimpleTestCase):
    def test_a_locked_write_is_tried_again_and_another_trouble_is_not(self) -> None:
        tries: list[int] = []

        def write() -> str:
            tries.append(1)
            if len(tries) < 4:
                raise LOCKED
            return "written"

        with mock.patch.object(waiting.log, "warning"):
            self.assertEqual(waiting.patiently(write), "written")
        self.assertEqual(len(tries), 4)
        with self.assertRaises(OperationalError):
            waiting.patiently(mock.Mock(side_effect=OperationalError("no such table")))

    def test_a_server_that_ended_the_connection_is_waited_for_on_a_new_one(self) -> None:
        for state, waited in ((None, True), ("57P01", True), ("42P01", False)):
            error = OperationalError("from the server")
            error.__cause__ = ServerError()
            error.__cause__.sqlstate = state
            write = mock.Mock(side_effect=[error, 7])
            with (
                mock.patch.object(waiting, "connection") as used,
                mock.patch.object(waiting, "log"),
            ):
                if waited:
                    self.assertEqual(waiting.patiently(write), 7)
                else:
                    self.assertRaises(OperationalError, waiting.patiently, write)
            self.assertEqual(used.close.called, waited, state)


@tag("database")
class LockedTests(TransactionTestCase):
    def setUp(self) -> None:
        teacher = make_teacher("teacher")
        self.student = add_student(band_of(teacher), StudentFacts("Edda", "horn", consent_on=TODAY))

    def add_take(self) -> Take:
        return Take.objects.create(
            student=self.student, filmed_on=TODAY, original_name="x", clip_name="clip.mp4"
        )

    @contextmanager
    def locked(self) -> Iterator[threading.Event]:
        """Another program holds the database until it is let go."""
        let_go, holds = threading.Event(), threading.Event()

        def hold() -> None:
            other = sqlite3.connect(connection.settings_dict["NAME"], isolation_level=None)
            other.execute("BEGIN EXCLUSIVE")
            holds.set()
            let_go.wait(60)
            other.execute("ROLLBACK")
            other.close()

        thread = threading.Thread(target=hold)
        thread.start()
        holds.wait(60)
        try:
            yield let_go
        finally:
            let_go.set()
            thread.join()

    @sqlite_alone
    def test_progress_is_noted_once_the_other_program_lets_go(self) -> None:
        take = self.add_take()
        Take.objects.filter(pk=take.pk).update(state=Take.State.WORKING)
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA busy_timeout=0")
        with self.locked() as let_go:

            def waited(*_: Any) -> None:
                let_go.set()

            with mock.patch.object(waiting.log, "warning", waited):
                noted = waiting.patiently(lambda: jobs.record_progress(take, "reading", 0.5))
        self.assertTrue(noted)
        take.refresh_from_db()
        self.assertEqual((take.stage, take.share), ("reading", 0.5))

    def test_a_worker_lives_on_and_reads_the_take_once(self) -> None:
        """Before, the lock that was not to be had when a job was fetched ended the thread."""
        take, locks = self.add_take(), [LOCKED, LOCKED]
        reads: list[Take] = []
        real = utils.exclusive_transaction

        @contextmanager
        def sometimes_locked(*given: Any) -> Iterator[None]:
            if locks:
                raise locks.pop()
            with real(*given):
                yield

        def note(result: DBTaskResult[Any, Any], value: Any) -> None:
            # Also the note of how it ended meets a lock, once.
            if not noted:
                noted.append(1)
                raise LOCKED
            set_successful(result, value)

        noted: list[int] = []
        set_successful = DBTaskResult.set_successful
        with (
            mock.patch.object(db_worker, "exclusive_transaction", sometimes_locked),
            mock.patch.object(DBTaskResult, "set_successful", note),
            mock.patch.object(tasks, "_read", reads.append),
            mock.patch.object(worker.log, "warning"),
            mock.patch.object(waiting.log, "warning"),
        ):
            enqueue(take)
            patient = worker.PatientWorker(interval=0.02)
            thread = threading.Thread(target=self.run_until_told, args=(patient,))
            thread.start()
            for _ in range(600):
                if DBTaskResult.objects.filter(finished_at__isnull=False).exists():
                    break
                thread.join(0.05)
            self.assertTrue(thread.is_alive())
            patient.running = False
            thread.join()
        self.assertEqual([one.pk for one in reads], [take.pk])
        self.assertEqual((locks, noted), ([], [1]))
        self.assertEqual(DBTaskResult.objects.get().status, "SUCCESSFUL")

    @staticmethod
    def run_until_told(patient: worker.PatientWorker) -> None:
        try:
            patient.run()
        finally:
            connections.close_all()


@tag("database")
class EndedTests(TransactionTestCase):
    def setUp(self) -> None:
        self.enterContext(stored_readings.real_children())
        teacher = make_teacher("teacher")
        student = add_student(band_of(teacher), StudentFacts("Edda", "horn", consent_on=TODAY))
        self.take = Take.objects.create(
            student=student, filmed_on=TODAY, original_name="x", clip_name="clip.mp4",
            job=uuid.uuid4(),
        )  # fmt: skip
        self.addCleanup(shutil.rmtree, self.take.directory, ignore_errors=True)
        self.take.directory.mkdir(parents=True)
        self.take.clip.write_bytes(b"a clip")

    def read(self, code: str) -> Take:
        """The take after a child that does this instead of reading."""
        child = [sys.executable, "-c", code]
        popen = subprocess.Popen
        with mock.patch("subprocess.Popen", lambda command, **how: popen(child, **how)):
            tasks.read_take.func(self.take.pk, str(self.take.job))
        self.take.refresh_from_db()
        return self.take

    def test_a_child_that_was_ended_from_outside_is_not_the_clips_fault(self) -> None:
        with self.assertLogs("sulvet.takes.tasks", "ERROR"):
            take = self.read("import os, signal; os.kill(os.getpid(), signal.SIGKILL)")
        self.assertEqual((take.state, take.message), (Take.State.WORKING, ""))
        Take.objects.update(heartbeat=timezone.now() - 2 * jobs.STALE)
        self.assertEqual(jobs.requeue_stale(), 1)

    def test_a_decoder_that_crashes_and_a_full_disk_are_told_apart(self) -> None:
        take = self.read("import os; os.abort()")
        self.assertIn("could not decode", take.message)
        Take.objects.update(state=Take.State.WAITING)
        take = self.read(
            "import errno\nfrom unittest import mock\nfrom sulvet.core import sandbox\n"
            "full = OSError(errno.ENOSPC, 'No space left on device')\n"
            "with mock.patch.object(sandbox, '_review', side_effect=full): sandbox.main()"
        )
        self.assertIn("disk of the computer Sulvet runs on is full", take.message)

    def test_a_clip_that_is_gone_is_called_gone(self) -> None:
        self.take.clip.unlink()
        tasks.read_take.func(self.take.pk, str(self.take.job))
        self.take.refresh_from_db()
        self.assertIn("is no longer on the disk", self.take.message)
