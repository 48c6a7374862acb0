"""Clips on the way in, the worker's job, and media on the way out."""

from __future__ import annotations

import datetime
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest import mock

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db.models import Q
from django.test import override_settings, tag
from django.urls import reverse
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from sulvet.core.anatomy.landmarks import OPENING_IDS
from sulvet.core.review import NO_REST_SEEN
from sulvet.takes import analysis, jobs, queue, tracks
from sulvet.takes.models import Take, TakeAnalysis, TakeSound
from sulvet.takes.tasks import read_take
from tests.base import BandTestCase, outcome
from tests.clips import ASKEW, NO_REST, RIM, SIZE, SMILE, clip
from tests.fake_clock import fake_clock
from tests.painted.face import Pose
from tests.painted.take import Script

HOUR = datetime.timedelta(hours=1)
BRIEF = Script(Pose(rise=6.0, width=1.1), rest=0.4, move=0.2, hold=0.4, after=0.1)


class UploadTestCase(BandTestCase):
    def send(self, data: bytes, name: str = "clip.mp4", day: str = "2026-11-20", **more: str):  # type: ignore[no-untyped-def]
        body = {"clip": SimpleUploadedFile(name, data), "view": "front", "purpose": "check",
                "filmed_on": day, **more}  # fmt: skip
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(reverse("student-takes", args=[self.student.pk]), body)

    def kept(self) -> list[Path]:
        folder = Path(settings.CLIPS_DIR)
        return sorted(folder.iterdir()) if folder.exists() else []


class RefusalTests(UploadTestCase):
    def assert_refused(self, answer, told: str, status: int = 400) -> None:  # type: ignore[no-untyped-def]
        self.assertEqual(answer.status_code, status, answer.content[:300])
        self.assertIn(told, answer.json()["detail"])
        self.assertEqual(self.kept(), [])
        self.assertEqual(Take.objects.count(), 0)
        self.assertEqual(DBTaskResult.objects.count(), 0)

    def test_without_consent_nothing_is_taken_in(self) -> None:
        self.student.consent_on = None
        self.student.save()
        self.assert_refused(self.send(b"x"), "no filming consent on file for Edda")

    def test_filmed_on_a_day_that_is_still_to_come(self) -> None:
        day = datetime.date.today() + datetime.timedelta(days=3)
        self.assert_refused(self.send(b"x", day=day.isoformat()), "in the future")

    def test_filmed_before_the_consent(self) -> None:
        self.assert_refused(self.send(b"x", day="2026-08-01"), "no filming consent on file")

    def test_files_that_are_no_clips(self) -> None:
        whole = clip(BRIEF, ".mp4", (640, 360)).read_bytes()
        self.assert_refused(self.send(b""), "The file is empty")
        self.assert_refused(self.send(b"Dear parents" * 99), "not a video Sulvet can read")
        self.assert_refused(self.send(whole[: len(whole) // 3]), "not a video Sulvet can read")
        self.assert_refused(self.send(b"x", day="soon"), "filmed_on")

    def test_a_name_can_not_lead_elsewhere(self) -> None:
        self.assert_refused(self.send(b"x" * 50, name="../../../etc/evil"), "not a video")
        self.assertEqual(list(Path(settings.DATA_DIR).glob("**/evil*")), [])


class ReadingTests(UploadTestCase):
    def test_a_clip_becomes_readings_marks_and_frames(self) -> None:
        answer = self.send(clip(SMILE).read_bytes(), name="Edda 3.mp4 (1)")
        self.assertEqual(answer.status_code, 201, answer.content)
        take = Take.objects.get()
        self.assertEqual((take.state, take.original_name), (Take.State.WAITING, "Edda 3.mp4 (1)"))
        # By its container, whatever the phone or a browser called it.
        self.assertEqual(take.clip_name, "clip.mp4")
        stages: list[tuple[str, float]] = []
        record = jobs.record_progress

        def listen(job: Take, stage: str, share: float) -> bool:
            stages.append((stage, share))
            return record(job, stage, share)

        with mock.patch.object(jobs, "record_progress", listen):
            read_take.call(take.pk, str(take.job))
        shares = [share for _, share in stages]
        self.assertEqual(shares, sorted(shares))
        self.assertGreater(len({stage for stage, _ in stages}), 3)
        take.refresh_from_db()
        self.assertEqual((take.state, take.message), (Take.State.READY, ""))
        page = self.client.get(reverse("take", args=[take.pk])).json()
        self.assertEqual([f["fault"] for f in page["findings"]], ["smile"])
        self.assertTrue(page["has_frames"])
        # It was heard as well, and the hold lies on what was heard.
        self.assertEqual({s["measure"] for s in page["tone"]}, {"pitch", "level"})
        hold = next(p for p in page["phases"] if p["name"] == "hold")
        (tone,) = TakeSound.objects.get(take=take).heard["told"]["tones"]
        self.assertAlmostEqual(hold["start"], tone["start"] + 0.15, delta=0.01)
        self.check_media(take)
        self.check_mark(take)
        self.assertEqual(self.client.delete(reverse("take", args=[take.pk])).status_code, 204)

    def check_media(self, take: Take) -> None:
        frame = self.client.get(reverse("frame", args=[take.pk, 20]))
        self.assertEqual(frame["Content-Type"], "image/jpeg")
        self.assertEqual(frame["Cache-Control"], "private, no-store")
        self.assertEqual(frame.content[:2], b"\xff\xd8")
        self.assertEqual(self.client.get(reverse("frame", args=[take.pk, 9999])).status_code, 404)

    def check_mark(self, take: Take) -> None:
        """A moved corner moves the readings; taken back, all is as it was."""
        before = self.client.get(reverse("take", args=[take.pk])).json()
        track = next(t for t in before["tracks"] if t["landmark"] == "ch_r")
        frame = 54
        body = {"landmark": "ch_r", "frame": frame, "x": track["x"][frame] - 4,
                "y": track["y"][frame] - 6}  # fmt: skip
        after = self.sent("put", reverse("marks", args=[take.pk]), {"marks": [body]})
        moved = next(t for t in after["tracks"] if t["landmark"] == "ch_r")
        self.assertEqual(
            (moved["x"][frame], moved["source"][frame]), (round(body["x"], 2), "placed")
        )
        self.assertNotEqual(after["readings"], before["readings"])
        for old, new in zip(before["tracks"], after["tracks"], strict=True):
            # The opening between the lips is looked for between the corners.
            if old["landmark"] not in ("ch_r", *OPENING_IDS):
                self.assertEqual(old, new)
        back = self.client.delete(
            reverse("marks", args=[take.pk]) + f"?landmark=ch_r&frame={frame}"
        )
        self.assert_same(back.json()["readings"], before["readings"])
        self.check_undo_and_accept(take, before)

    def assert_same(self, some: list[dict[str, Any]], others: list[dict[str, Any]]) -> None:
        """The same readings, but for the last digit: some clips lie right where it is rounded,
        and neighbours of a mark are at hand in single precision when it is followed again."""
        for one, other in zip(some, others, strict=True):
            for name in one:
                if isinstance(one[name], float) and isinstance(other[name], float):
                    self.assertAlmostEqual(one[name], other[name], delta=1.5e-4, msg=name)
                else:
                    self.assertEqual(one[name], other[name])

    def check_undo_and_accept(self, take: Take, before: dict[str, Any]) -> None:
        """Found marks that are accepted measure the same; undone edits give the old readings."""
        undo = reverse("undo", args=[take.pk])
        again = self.sent("post", undo)
        self.assertNotEqual(again["readings"], before["readings"])
        self.assert_same(self.sent("post", undo)["readings"], before["readings"])
        self.assertGreater(before["found_left"], 6)
        accepted = self.sent("post", reverse("accept", args=[take.pk]))
        self.assertEqual(accepted["found_left"], 0)
        self.assert_same(accepted["readings"], before["readings"])
        refused = self.sent("post", reverse("accept", args=[take.pk]), None, 400)
        self.assertIn("no found mark", refused["detail"])

    def test_a_close_up_waits_for_marks_and_then_goes_on(self) -> None:
        self.send(clip(ASKEW).read_bytes())
        take = Take.objects.get()
        read_take.call(take.pk, str(take.job))
        page = self.client.get(reverse("take", args=[take.pk])).json()
        self.assertEqual(page["take"]["state"], "needs-marks", page["take"]["message"])
        self.assertIn("No mouth was found", page["take"]["message"])
        self.assertTrue(page["has_frames"])
        again = reverse("reread", args=[take.pk])
        self.assertIn("Place all the marks", self.sent("post", again, expect=400)["detail"])
        from sulvet.core.anatomy.landmarks import FRONT_IDS, REQUIRED
        from tests.painted.take import true_marks

        truth = true_marks(ASKEW, SIZE)[5]
        marks = [
            {"landmark": name, "frame": 5, "x": x, "y": y}
            for name in REQUIRED
            for x, y in [truth[FRONT_IDS.index(name)]]
        ]
        self.sent("put", reverse("marks", args=[take.pk]), {"marks": marks})
        with self.captureOnCommitCallbacks(execute=True):
            self.sent("post", again)
        take.refresh_from_db()
        read_take.call(take.pk, str(take.job))
        page = self.client.get(reverse("take", args=[take.pk])).json()
        self.assertEqual(page["take"]["state"], "ready")
        self.assertEqual([f["fault"] for f in page["findings"]], ["smile"])

    def test_a_clip_without_a_rest_borrows_that_of_the_students_other_take(self) -> None:
        pages = []
        for script in (NO_REST, RIM, NO_REST):
            self.send(clip(script).read_bytes())
            take = Take.objects.latest("pk")
            read_take.call(take.pk, str(take.job))
            pages.append(self.client.get(reverse("take", args=[take.pk])).json())
        self.assertEqual(
            [page["take"]["state"] for page in pages], ["needs-marks", "ready", "ready"]
        )
        last = Take.objects.latest("pk")
        self.assertTrue(any("compared with the one of" in note for note in pages[2]["notes"]))
        told = {r["measure"] for r in pages[2]["readings"] if r["value"] is not None}
        self.assertLessEqual({"corner_rise", "mouth_width", "rim_upper_share"}, told)
        # Made anew from what is kept it comes out the same, and a moved mark is measured.
        kept = analysis.frames_of(last)
        analysis.save(last, analysis.make(last))
        self.assertEqual(analysis.frames_of(Take.objects.get(pk=last.pk)), kept)
        mark = next(m for m in pages[2]["marks"] if m["landmark"] == "ch_r")
        moved = {"marks": [{"landmark": "ch_r", "frame": mark["frame"], "x": mark["x"] + 2,
                            "y": mark["y"]}]}  # fmt: skip
        self.sent("put", reverse("marks", args=[last.pk]), moved)

    def test_where_the_take_to_borrow_from_is_gone_the_teacher_is_asked(self) -> None:
        take = self.add_take(state=Take.State.WORKING)
        self.assertTrue(jobs.finish(take, replace(outcome(), no_rest=True)))
        take.refresh_from_db()
        self.assertEqual((take.state, take.message), (Take.State.NEEDS_MARKS, NO_REST_SEEN))


@tag("database")
class WorkerTests(UploadTestCase):
    def test_what_a_killed_worker_left_is_taken_up_once(self) -> None:
        take = self.add_take(state=Take.State.WORKING, heartbeat=timezone.now())
        self.assertEqual(jobs.requeue_stale(), 0)
        old = take.job
        Take.objects.update(heartbeat=timezone.now() - datetime.timedelta(minutes=1))
        with self.captureOnCommitCallbacks(execute=True):
            self.assertEqual(jobs.requeue_stale(), 1)
        self.assertEqual(jobs.requeue_stale(), 0)
        take.refresh_from_db()
        self.assertEqual(take.state, Take.State.WAITING)
        self.assertNotEqual(take.job, old)
        self.assertEqual(DBTaskResult.objects.count(), 1)

    def test_a_clip_that_kills_its_worker_again_and_again_is_left_alone(self) -> None:
        self.add_take(
            state=Take.State.WORKING,
            tries=jobs.MAX_TRIES,
            heartbeat=timezone.now() - datetime.timedelta(minutes=1),
        )
        jobs.requeue_stale()
        take = Take.objects.get()
        self.assertEqual(take.state, Take.State.FAILED)
        self.assertIn("The clip is kept", take.message)

    def test_a_clock_that_is_off_takes_no_take_from_another_worker(self) -> None:
        take = self.add_take(state=Take.State.WAITING)
        for hours in (-1, 1):
            queue.enqueue(take)
            # The worker's clock is off while it claims and works; that of who looks is right.
            off = timezone.now() + hours * HOUR
            with fake_clock(off):
                self.assertIsNotNone(jobs.claim(take.pk, str(take.job)))
                self.assertTrue(jobs.record_progress(take, "reading", 0.5))
            self.assertEqual(jobs.requeue_stale(), 0)
            with fake_clock(off):
                self.assertEqual(jobs.requeue_stale(), 0)

    def test_two_who_look_after_takes_take_one_up_once(self) -> None:
        take = self.add_take(
            state=Take.State.WORKING, heartbeat=timezone.now() - datetime.timedelta(minutes=1)
        )
        # Both have seen it before one of them wrote.
        both = [Take.objects.get(), Take.objects.get()]
        self.assertEqual([jobs._again(seen, Q()) for seen in both], [1, 0])
        take.refresh_from_db()
        self.assertEqual(take.state, Take.State.WAITING)

    def test_takes_whose_queue_was_lost_are_handed_out_again_at_once(self) -> None:
        self.add_take(
            state=Take.State.WAITING, heartbeat=timezone.now() - datetime.timedelta(minutes=1)
        )
        for empty, taken in ((False, 0), (True, 1), (True, 0)):
            with mock.patch.object(queue, "is_empty", return_value=empty):
                self.assertEqual(jobs.requeue_stale(), taken)

    def test_an_older_worker_leaves_what_a_newer_one_made(self) -> None:
        take = self.add_ready()
        for version, made in (("999", 0), ("0", 1)):
            TakeAnalysis.objects.update(engine=version)
            again = Take.objects.get(pk=take.pk)
            self.assertTrue(analysis.is_stale(again))
            self.assertEqual(analysis.refresh_all([again]), made)

    def test_an_old_job_writes_nothing(self) -> None:
        take = self.add_take(state=Take.State.WORKING)
        old = Take.objects.get(pk=take.pk)
        queue.enqueue(take)
        self.assertFalse(jobs.finish(old, outcome()))
        self.assertIsNone(jobs.claim(take.pk, str(old.job)))
        self.assertFalse(jobs.record_progress(old, "reading", 0.5))
        self.assertEqual(take.readings.count(), 0)

    def test_a_job_runs_once(self) -> None:
        take = self.add_take(state=Take.State.WAITING)
        self.assertIsNotNone(jobs.claim(take.pk, str(take.job)))
        self.assertIsNone(jobs.claim(take.pk, str(take.job)))

    def test_a_clip_that_breaks_the_engine_is_a_sentence(self) -> None:
        take = self.add_take(state=Take.State.WAITING)
        take.directory.mkdir(parents=True)
        take.clip.write_bytes(b"Dear parents")
        read_take.call(take.pk, str(take.job))
        take.refresh_from_db()
        self.assertEqual(take.state, Take.State.FAILED)
        self.assertIn("not a video Sulvet can read", take.message)
        self.assertTrue(take.clip.exists())
        self.assertEqual(self.kept(), [take.directory])

    def test_readings_made_anew_are_the_same_to_the_last_figure(self) -> None:
        take = self.add_ready(rise=8.123456, width=1.0987654)

        def told() -> list[tuple[object, ...]]:
            return list(take.readings.values_list("measure", "phase", "value", "uncertainty"))

        before = told()
        analysis.save(take, analysis.make(take))
        self.assertEqual(told(), before)

    def test_tracks_come_back_from_the_database_as_they_went_in(self) -> None:
        import numpy as np

        marks = outcome().marks
        take = self.add_ready()
        back = tracks.load(take)
        own = [back.column(name) for name in marks.ids]
        np.testing.assert_allclose(back.xy[:, own], marks.xy, atol=1e-4)
        np.testing.assert_array_equal(back.source[:, own], marks.source)
        np.testing.assert_array_equal(back.hidden[:, own], marks.hidden)


class DeletionTests(UploadTestCase):
    def test_deleting_a_take_deletes_rows_and_files(self) -> None:
        take = self.add_ready()
        take.directory.mkdir(parents=True)
        take.clip.write_bytes(b"x")
        take.proxy.write_bytes(b"x")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.delete(reverse("take", args=[take.pk]))
        self.assertEqual(self.kept(), [])
        self.assertEqual(Take.objects.count(), 0)


class RangeTests(BandTestCase):
    """RFC 9110, sections 13.1 and 14."""

    def setUp(self) -> None:
        super().setUp()
        self.take = self.add_ready()
        self.take.directory.mkdir(parents=True)
        self.data = bytes(range(256)) * 8192  # 2 MiB
        self.take.proxy.write_bytes(self.data)
        self.address = reverse("clip", args=[self.take.pk])

    def get(self, **headers: str):  # type: ignore[no-untyped-def]
        answer = self.client.get(self.address, headers=headers)
        body = answer.getvalue()  # both of a stream and of a plain answer
        return answer, body

    def test_whole_part_end_and_beyond(self) -> None:
        answer, body = self.get()
        self.assertEqual((answer.status_code, body), (200, self.data))
        self.assertEqual(answer["Accept-Ranges"], "bytes")
        answer, body = self.get(range="bytes=100-199")
        self.assertEqual((answer.status_code, body), (206, self.data[100:200]))
        self.assertEqual(answer["Content-Range"], f"bytes 100-199/{len(self.data)}")
        answer, body = self.get(range="bytes=-10")
        self.assertEqual((answer.status_code, body), (206, self.data[-10:]))
        answer, body = self.get(range=f"bytes={len(self.data)}-")
        self.assertEqual((answer.status_code, body), (416, b""))
        self.assertEqual(answer["Content-Range"], f"bytes */{len(self.data)}")

    def test_an_open_range_is_cut_so_that_no_reader_holds_a_thread(self) -> None:
        answer, body = self.get(range="bytes=0-")
        self.assertEqual((answer.status_code, len(body)), (206, 2**20))

    def test_what_is_no_range_is_ignored(self) -> None:
        for odd in ("bytes=5-2", "bytes=-", "lines=1-2", "bytes=0-1,5-6"):
            answer, body = self.get(range=odd)
            self.assertEqual((answer.status_code, len(body)), (200, len(self.data)), odd)

    def test_conditions(self) -> None:
        tag = self.get()[0]["ETag"]
        self.assertEqual(self.get(**{"if-none-match": tag})[0].status_code, 304)
        self.assertEqual(self.get(range="bytes=0-1", **{"if-range": tag})[0].status_code, 206)
        self.assertEqual(self.get(range="bytes=0-1", **{"if-range": '"x"'})[0].status_code, 200)
        head = self.client.head(self.address)
        self.assertEqual((head["Content-Length"], head.content), (str(len(self.data)), b""))


class PageTests(BandTestCase):
    @override_settings(FRONTEND_DIST=Path("/nowhere"))
    def test_without_a_build_it_says_how_to_make_one(self) -> None:
        self.assertContains(self.client.get("/"), "run.py setup", status_code=503)

    def test_the_page_forbids_fetching_from_elsewhere(self) -> None:
        policy = self.client.get("/students/1")["Content-Security-Policy"]
        self.assertIn("default-src 'self'", policy)
