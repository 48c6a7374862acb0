"""Files of takes on a storage that computers share: a second folder stands in for it."""

from __future__ import annotations

import datetime
import os
import shutil
import tempfile
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest import mock

from django.conf import settings
from django.core.files.storage import FileSystemStorage, storages
from django.core.files.uploadedfile import UploadedFile
from django.test import override_settings
from django.urls import reverse
from django.utils import timezone

from sulvet.core import clock
from sulvet.core.video.proxy import PROXY
from sulvet.demo.scenario import STUDENTS
from sulvet.takes import files, jobs, queue, space, storage, tasks, uploads, worker
from sulvet.takes.facts import TakeFacts
from sulvet.takes.marking import move_in
from sulvet.takes.models import Discarded, Take
from sulvet.web import server
from tests.base import TODAY, BandTestCase

#: A clip that is read in a moment: any that is not made by a camera will do here.
CLIP = STUDENTS[0].takes[0].clip


class Stubborn(FileSystemStorage):
    """A storage that can be told to refuse."""

    refuses = False

    def open(self, name: str, mode: str = "rb") -> Any:
        self._ask()
        return super().open(name, mode)

    def save(self, name: str | None, content: Any, max_length: int | None = None) -> str:
        self._ask()
        Path(self.path(name or "")).unlink(missing_ok=True)
        return super().save(name, content, max_length)

    def delete(self, name: str) -> None:
        self._ask()
        super().delete(name)

    def get_available_name(self, name: str, max_length: int | None = None) -> str:
        return name

    def _ask(self) -> None:
        if Stubborn.refuses:
            raise ConnectionError("slow down")


class StorageCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        far = tempfile.TemporaryDirectory(prefix="sulvet-far-")
        self.addCleanup(far.cleanup)
        self.far = Path(far.name)
        backend = f"{__name__}.Stubborn"
        own = override_settings(
            STORAGES=settings.STORAGES
            | {storage.NAME: {"BACKEND": backend, "OPTIONS": {"location": far.name}}}
        )
        own.enable()
        self.addCleanup(own.disable)
        Stubborn.refuses = False
        self.here = Path(settings.CLIPS_DIR)

    @contextmanager
    def away(self) -> Iterator[None]:
        Stubborn.refuses = True
        with mock.patch.object(storage.log, "warning"):
            yield
        Stubborn.refuses = False

    def taken_in(self) -> Take:
        """A clip taken in by one computer, of which another has nothing."""
        with CLIP.open("rb") as file, mock.patch.object(uploads, "enqueue"):
            clip = UploadedFile(file, CLIP.name, size=CLIP.stat().st_size)
            take = uploads.add_take(self.student, clip, TakeFacts("front", "check", TODAY))
        take.job = uuid.uuid4()
        take.save()
        return take


class SharedTests(StorageCase):
    def test_another_computer_gets_what_it_wants_and_no_more(self) -> None:
        take = self.taken_in()
        self.assertTrue((self.far / str(take.folder) / "clip.mp4").exists())
        shutil.rmtree(take.directory)
        self.assertTrue(take.has("clip.mp4"))
        self.assertFalse(take.has(PROXY))
        self.assertFalse(take.directory.exists())
        self.assertEqual(take.clip.read_bytes(), CLIP.read_bytes())
        self.assertFalse(take.proxy.exists())
        with tempfile.TemporaryDirectory() as making:
            (Path(making) / PROXY).write_bytes(b"a copy")
            move_in(Path(making), take)
        shutil.rmtree(take.directory)
        self.assertEqual([p.name for p in storage.fetched_all(take.folder)], ["clip.mp4", PROXY])
        self.assertTrue(uploads.delete_take(take))
        self.assertEqual(list(self.far.rglob("*.mp4")) + list(self.here.rglob("*.mp4")), [])

    def test_room_is_made_by_what_was_used_longest_ago_and_is_kept_elsewhere(self) -> None:
        old, new = self.taken_in(), self.taken_in()
        alone = old.directory / "steady.npz"
        alone.write_bytes(b"x" * 1000)
        for n, path in enumerate((alone, old.directory / "clip.mp4")):
            os.utime(path, (n, n))
        with override_settings(LOCAL_CLIPS_BYTES=CLIP.stat().st_size + 1000):
            storage.make_room()
        self.assertTrue(alone.exists(), "the only copy")
        self.assertFalse((old.directory / "clip.mp4").exists())
        self.assertTrue((new.directory / "clip.mp4").exists())
        self.assertEqual(old.clip.stat().st_size, CLIP.stat().st_size)

    def test_a_web_server_tidies_the_folder_that_no_worker_has(self) -> None:
        take = self.taken_in()
        with mock.patch("sulvet.web.server.threading.Thread") as begun:
            server._tidy()
        tidy = begun.call_args.kwargs["target"]
        with (
            override_settings(LOCAL_CLIPS_BYTES=0),
            mock.patch.object(clock, "sleep", side_effect=KeyboardInterrupt),
            mock.patch.object(worker, "close_old_connections"),
            self.assertRaises(KeyboardInterrupt),
        ):
            tidy()
        self.assertFalse((take.directory / "clip.mp4").exists())
        self.assertTrue(take.clip.exists())
        # Beside the data folder of one computer a worker does it.
        with (
            mock.patch.object(storage, "shared", return_value=None),
            mock.patch("sulvet.web.server.threading.Thread") as begun,
        ):
            server._tidy()
        begun.assert_not_called()


class AwayTests(StorageCase):
    def test_a_clip_is_not_taken_in_and_nothing_of_it_stays(self) -> None:
        with self.away(), CLIP.open("rb") as clip:
            self.client.raise_request_exception = False
            answer = self.client.post(
                reverse("student-takes", args=[self.student.pk]),
                {"clip": clip, "view": "front", "purpose": "check", "filmed_on": TODAY.isoformat()},
            )
        self.assertEqual(answer.status_code, 503, answer.content)
        self.assertIn("Nothing is lost", answer.json()["detail"])
        self.assertEqual((Take.objects.count(), list(self.here.iterdir())), (0, []))

    def test_the_bench_shows_what_was_measured_and_a_deletion_is_finished_later(self) -> None:
        take = self.add_ready()
        with self.away(), mock.patch.object(storages[storage.NAME], "exists", side_effect=OSError):
            page = self.client.get(reverse("take", args=[take.pk])).json()
        self.assertFalse(page["has_frames"])
        self.assertTrue(page["readings"])
        gone = self.taken_in()
        with self.away():
            self.assertFalse(uploads.delete_take(gone))
        self.assertEqual(Discarded.objects.count(), 1)
        files.finish_deleting()
        self.assertEqual((Discarded.objects.count(), list(self.far.rglob("*.mp4"))), (0, []))

    def test_a_job_leaves_the_take_to_be_taken_up_again(self) -> None:
        take = self.taken_in()
        shutil.rmtree(take.directory)
        Take.objects.filter(pk=take.pk).update(state=Take.State.WAITING)
        with self.away(), mock.patch.object(tasks.log, "exception"):
            tasks.read_take.call(take.pk, str(take.job))
        take.refresh_from_db()
        self.assertEqual((take.state, take.message), (Take.State.WORKING, ""))
        # It is not tried at once: after each try that was broken off the pause is longer.
        for tries, pause in ((1, 1), (2, 3)):
            for past, taken in ((pause * 0.9, 0), (pause * 1.1, 1)):
                Take.objects.filter(pk=take.pk).update(
                    state=Take.State.WORKING, tries=tries,
                    heartbeat=timezone.now() - past * jobs.STALE,
                )  # fmt: skip
                self.assertEqual(jobs.requeue_stale(), taken, (tries, past))
        Take.objects.filter(pk=take.pk).update(
            state=Take.State.WORKING, tries=jobs.MAX_TRIES,
            heartbeat=timezone.now() - datetime.timedelta(hours=1),
        )  # fmt: skip
        self.assertEqual(jobs.requeue_stale(), 0)
        self.assertEqual([one.pk for one in jobs.given_up()], [take.pk])

    def test_a_worker_whose_disk_is_full_leaves_the_take_to_another(self) -> None:
        take = self.taken_in()
        waiting = Take.objects.filter(pk=take.pk)
        waiting.update(state=Take.State.WAITING)
        here = list(take.directory.iterdir())
        with (
            mock.patch.object(space, "is_short", return_value=True),
            mock.patch.object(tasks, "FULL_PAUSE", 0), mock.patch.object(tasks.log, "error"),
            mock.patch.object(queue, "_ring") as rung,
        ):  # fmt: skip
            tasks.read_take.call(take.pk, str(take.job))
        self.assertEqual([one.args[0].pk for one in rung.call_args_list], [take.pk])
        take.refresh_from_db()
        self.assertEqual((take.state, take.tries), (Take.State.WAITING, 0))
        # It has dropped what it had at hand to make room; the storage has it.
        self.assertTrue(here)
        self.assertEqual(list(take.directory.iterdir()), [])
        self.assertTrue(take.clip.exists())


class QueueTests(BandTestCase):
    def test_a_queue_that_is_away_loses_no_take(self) -> None:
        take = self.add_take()
        with (
            mock.patch.object(tasks.read_take.get_backend(), "enqueue", side_effect=OSError),
            mock.patch.object(queue.log, "exception"),
            self.captureOnCommitCallbacks(execute=True),
        ):
            queue.enqueue(take)
        take.refresh_from_db()
        self.assertEqual(take.state, Take.State.WAITING)
        self.assertEqual(jobs.requeue_stale(), 1)
