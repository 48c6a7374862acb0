"""A class list and a whole band: all of it or nothing."""

from __future__ import annotations

import hashlib
import io
import json
import os
import zipfile
from base64 import b64encode
from contextlib import nullcontext
from pathlib import Path
from typing import Any
from unittest.mock import patch
from urllib.parse import urlencode

import cv2
import numpy as np
from django.apps import apps
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, tag
from django.urls import reverse
from django.utils import timezone

from sulvet.accounts.models import Invitation, Membership, Preferences, School
from sulvet.band.models import Band, Retention, SchoolRetention, Student, Transfer
from sulvet.booth.models import Booth, BoothTake, CaptureLink
from sulvet.closeups.models import CloseUp, CloseUpPicture
from sulvet.core import sandbox
from sulvet.eye.models import EyeAnswer, EyeRound
from sulvet.hand.models import HandMark
from sulvet.plans.models import Practice
from sulvet.records import archive_format, restore
from sulvet.reeds.models import Reed, ReedHabits, ReedPlay
from sulvet.standards.models import OwnStandard, SharedStandard
from sulvet.takes import files
from sulvet.takes.models import Discarded, Mark, Take, TakeSound
from sulvet.takes.uploads import delete_student
from tests.records.base import DAYS, RecordCase

JPEG = cv2.imencode(".jpg", np.full((40, 30, 3), 128, np.uint8))[1].tobytes()
FORM = "application/x-www-form-urlencoded"


@tag("database")
class ClipNamesTests(RecordCase):
    def test_names_of_files_are_matched_to_the_own_band_only(self) -> None:
        self.add_student("Ada Lunde", self.stranger)
        found = self.sent("post", reverse("clip-names"), {"files": ["edda.mp4", "ada.mp4"]})
        self.assertEqual([m["student"] for m in found], [self.student.pk, None])


def files_of(takes: list[Take]) -> dict[str, bytes]:
    return {
        f"{take.folder}/{path.name}": path.read_bytes()
        for take in takes
        for path in take.directory.iterdir()
    }


def rows_of(teacher: Any) -> dict[str, list[dict[str, Any]]]:
    """Every column of every row of a teacher, as the database has it."""
    return {
        model._meta.label: list(
            model._default_manager.filter(**{way: teacher}).order_by("pk").values()
        )
        for model, way in archive_format.TABLES
    }


@tag("database")
class ArchiveTests(RecordCase):
    def fill(self) -> None:
        """A band with something in every table."""
        take = self.from_demo("edda-front-12", 12, self.student)
        self.from_demo("edda-front-1", 1, self.student)
        Mark.objects.create(
            take=take, landmark="ch_l", frame=3, x=200.5, y=1 / 7, sigma=0.8, source="placed"
        )
        found = take.findings.exclude(verdict="can't tell").first()
        assert found is not None
        self.sent("put", reverse("decisions", args=[take.pk]),
                  {"fault": found.fault, "phase": found.phase, "answer": "confirmed"})  # fmt: skip
        self.sent("post", reverse("said-first", args=[take.pk]),
                  {"faults": ["smile"], "untold": False})  # fmt: skip
        began = {"started_on": (self.today - 12 * DAYS).isoformat()}
        plan = self.sent("post", reverse("take-plan", args=[take.pk]), began, 201)["running"]
        self.sent("put", reverse("plan", args=[plan["id"]]),
                  {"date": (self.today - DAYS).isoformat(), "done": True})  # fmt: skip
        free = {"first": "2026-12-20", "last": "2027-01-06", "words": "snow"}
        self.sent("put", reverse("school-days"),
                  {"weekdays_off": [6], "minutes": 9, "free": [free]})  # fmt: skip
        self.sent("post", reverse("record", args=[self.student.pk]),
                  {"text": "Grüße", "take": take.pk, "seconds": 1.0625}, 201)  # fmt: skip
        me = [self.student.pk]
        self.sent("post", reverse("lessons"), {"students": me, "do": "pass"})
        self.sent("post", reverse("given"), {"students": me, "routine": "breath"}, 201)
        TakeSound.objects.create(
            take=take, intended={"pitch": "F4"}, heard={"engine": "0", "room": 1 / 3}
        )
        OwnStandard.objects.create(
            teacher=self.teacher, instrument="horn", edition=1, edges={}, school="two-thirds"
        )
        reed = Reed.objects.create(student=self.student, slot=3, opened_on=self.today)
        close_up = CloseUp.objects.create(
            student=self.student, reed=reed, original_name="r.jpg", width=900, height=1200,
            marks={"cut": [1 / 3, 2.5]}, hidden=["mouth_tip"], taken_on=self.today,
        )  # fmt: skip
        CloseUpPicture.objects.create(close_up=close_up, jpeg=JPEG)
        ReedPlay.objects.create(reed=reed, date=self.today, minutes=20)
        ReedHabits.objects.create(teacher=self.teacher, figures={"least": 6})
        HandMark.objects.create(
            teacher=self.teacher, round=1, face=2, landmark="ch_r", x=0.1, y=1 / 3
        )

    def taken_out(self) -> bytes:
        answer = self.client.get(reverse("archive"))
        self.assertEqual(answer.status_code, 200)
        return b"".join(answer)

    def taken_in(self, data: bytes, client: Client | None = None, **also: str) -> Any:
        file = SimpleUploadedFile("band.zip", data)
        return (client or self.client).post(reverse("archive"), {"archive": file, **also})

    def wipe(self) -> None:
        with self.captureOnCommitCallbacks(execute=True):
            for student in Student.objects.filter(section__band__teacher=self.teacher):
                delete_student(student)
        for model, way in archive_format.TABLES:
            model._default_manager.filter(**{way: self.teacher}).delete()

    def test_out_wiped_and_in_again_all_is_as_it_was(self) -> None:
        self.fill()
        takes = list(Take.objects.all())
        rows, files = rows_of(self.teacher), files_of(takes)
        self.assertTrue(all(rows.values()), {name for name, some in rows.items() if not some})
        self.assertTrue(any(name.endswith("clip.mp4") for name in files))
        data = self.taken_out()
        self.wipe()
        self.assertFalse(any(rows_of(self.teacher).values()))
        self.assertFalse(any(take.directory.exists() for take in takes))
        answer = self.taken_in(data)
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual((answer.json()["students"], answer.json()["takes"]), (1, 2))
        self.assertEqual(rows_of(self.teacher), rows)
        self.assertEqual(files_of(takes), files)
        # And what follows from it is worked out as before.
        page = self.sent("get", reverse("then-and-now", args=[self.student.pk]))
        self.assertIsNotNone(page["pair"])

    def test_no_table_is_forgotten_and_each_comes_after_what_it_hangs_on(self) -> None:
        listed = [model for model, _ in archive_format.TABLES]
        ours = [m for m in apps.get_models() if m.__module__.startswith("sulvet.")]
        self.assertEqual({*listed, *archive_format.STAYS_HERE}, set(ours))
        # A booth and a link are of this computer's address; what came by them is a take. Rounds of
        # the eye are the account's own practice, of nobody's band; who is let in, and to which
        # school they belong, is said here.
        here = (Invitation, School, Membership, Transfer, Discarded, Retention, SchoolRetention,
                SharedStandard, Preferences, Booth, BoothTake, CaptureLink, EyeRound,
                EyeAnswer)  # fmt: skip
        self.assertEqual(archive_format.STAYS_HERE, here)
        for place, model in enumerate(listed):
            for column in model._meta.concrete_fields:
                target = column.related_model
                if target in ours:
                    self.assertIn(target, listed[:place], f"{model.__name__}.{column.name}")

    def test_an_older_archive_without_a_later_column_or_table_comes_in(self) -> None:
        self.fill()
        data = self.taken_out()
        self.wipe()
        with zipfile.ZipFile(io.BytesIO(data)) as archived:
            manifest = json.loads(archived.read(archive_format.MANIFEST))
        later = [
            archive_format.file_of(m) for m in (Reed, ReedPlay, ReedHabits, CloseUp, CloseUpPicture)
        ]
        manifest["entries"] = [e for e in manifest["entries"] if e["name"] not in later]
        older = changed(data, {
            **dict.fromkeys(later),
            archive_format.MANIFEST: json.dumps(manifest).encode(),
        })  # fmt: skip
        older = resealed(older, archive_format.file_of(Student), b'"tape_mm": null, ', b"")
        self.assertEqual(self.taken_in(older).status_code, 201)
        self.assertIsNone(Student.objects.get().tape_mm)
        self.assertFalse(Reed.objects.exists())

    def test_beside_another_band_everything_gets_new_numbers_and_nothing_is_shared(self) -> None:
        self.fill()
        data = self.taken_out()
        before = rows_of(self.teacher)
        other = Client()
        other.force_login(self.stranger)
        answer = self.taken_in(data, other)
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual(rows_of(self.teacher), before)
        theirs = Take.objects.filter(student__section__band__teacher=self.stranger)
        self.assertEqual(theirs.count(), 2)
        mine = Take.objects.filter(student__section__band__teacher=self.teacher)
        folders = {take.folder for take in theirs} & {take.folder for take in mine}
        self.assertEqual(folders, set())
        for take in theirs:
            self.assertTrue(take.clip.exists())
            answer = other.get(reverse("take", args=[take.pk]))
            self.assertEqual(answer.status_code, 200)
            self.assertEqual(answer.json()["student_name"], "Edda")
        self.assertEqual(Practice.objects.count(), 2)

    def test_what_does_not_match_is_not_taken_in(self) -> None:
        self.fill()
        data = self.taken_out()
        self.wipe()
        folders = set(Path(settings.CLIPS_DIR).iterdir())
        for wrong, words in (
            (b"no archive", "incomplete or was changed"),
            (data[: len(data) // 2], "incomplete or was changed"),
            (changed(data, {archive_format.MANIFEST: b"{}"}), "list of contents can't be read"),
            (changed(data, {archive_format.MANIFEST: lambda text: text.replace(
                b'"version": 2', b'"version": 99')}), "has version 99"),
            (changed(data, {"tables/band.student.jsonl": b""}), "has changed"),
            (changed(data, {"clip.mp4": lambda clip: clip[:-9] + b"tampered!"}),
             "has changed"),
            (changed(data, {"tables/takes.mark.jsonl": None}), "damaged"),
            (resealed(data, "tables/takes.take.jsonl", b"clip.mp4", b"../../secret"),
             "is inconsistent"),
            (resealed(data, "tables/takes.take.jsonl", b'"front"', b'"above"'),
             "is inconsistent"),
            (resealed(data, "tables/plans.plan.jsonl", b'"student_id": ', b'"student_id": 9'),
             "is inconsistent"),
            (resealed(data, "tables/takes.take.jsonl", b'"state"', b'"share": NaN, "state"'),
             "is inconsistent"),
            (resealed(data, "tables/takes.takeanalysis.jsonl", b'"hold": {', b'"held": {'),
             "can't be shown"),
            (resealed(data, "tables/closeups.closeuppicture.jsonl",
                      b64encode(JPEG), b64encode(b"<html><script>")), "can't be used"),
            (sealed_file(data, "clip.mp4", b"ffconcat version 1.0\nfile /etc/passwd\n"),
             "not a video Sulvet can read"),
            (sealed_file(data, "clip.mp4", bytes(2**27), zipfile.ZIP_DEFLATED), "far more"),
        ):  # fmt: skip
            unseen = words == "can't be shown"
            with self.assertLogs("sulvet.records.restore") if unseen else nullcontext():
                answer = self.taken_in(wrong)
            self.assertEqual(answer.status_code, 400, words)
            self.assertIn(words, answer.json()["detail"])
            self.assertFalse(Student.objects.exists())
            self.assertEqual(set(Path(settings.CLIPS_DIR).iterdir()), folders)
        self.assertEqual(self.taken_in(data).status_code, 201)

    def test_an_import_that_was_killed_before_its_end_is_whole_or_gone(self) -> None:
        self.fill()
        data = self.taken_out()
        rows, kept = rows_of(self.teacher), files_of(list(Take.objects.all()))
        self.wipe()
        clips = Path(settings.CLIPS_DIR)
        for where, whole in (("_look_at_files", False), ("_try_pages", True)):
            with (
                patch.object(restore._Reader, where, side_effect=KeyboardInterrupt),
                patch("sulvet.records.restore.shutil.rmtree"), patch.object(files, "arrived"),
                self.assertRaises(KeyboardInterrupt),
            ):  # fmt: skip
                self.taken_in(data)
            self.assertTrue(any(clips.glob("*.incoming")))
            self.assertEqual(Student.objects.exists(), whole)
            with self.assertLogs("sulvet.takes.files", "WARNING"):
                files.sweep(settled=0.0)
        self.assertEqual(rows_of(self.teacher), rows)
        self.assertEqual(files_of(list(Take.objects.all())), kept)
        self.assertFalse(any(clips.glob("*.incoming")))

    def test_a_long_import_does_not_look_like_one_that_was_broken_off(self) -> None:
        self.fill()
        data = self.taken_out()
        self.wipe()
        check, swept = sandbox.check, list[int]()

        def slow(paths: list[Path]) -> tuple[str, str]:
            for path in {one.parent for one in paths}:
                for one in (*path.iterdir(), path):
                    os.utime(one, (0, 0))
            return check(paths)

        def insert(reader: Any, model: Any, way: str) -> None:
            swept.append(sum(one.why == files.HALF for one in files.strays()))
            real(reader, model, way)

        real = restore._Reader._insert
        with (
            patch("sulvet.core.sandbox.check", slow), patch.object(restore, "ALIVE", 0.0),
            patch.object(restore._Reader, "_insert", insert),
        ):  # fmt: skip
            self.assertEqual(self.taken_in(data).status_code, 201)
        self.assertEqual(set(swept), {0})

    def test_beside_clips_of_a_lost_database_they_come_in_all_the_same(self) -> None:
        self.fill()
        data = self.taken_out()
        Student.objects.all().delete()
        self.assertEqual(self.taken_in(data).status_code, 201)
        self.assertTrue(all(take.clip.exists() for take in Take.objects.all()))

    def test_with_a_passphrase_nothing_can_be_read_without_it(self) -> None:
        self.fill()
        rows, words = rows_of(self.teacher), "four plain words here"
        address = reverse("encrypted-archive")
        answers = [
            self.client.post(address, urlencode({"passphrase": one}), FORM)
            for one in ("short", words)
        ]
        self.assertEqual([answer.status_code for answer in answers], [400, 200])
        data = b"".join(answers[1])
        with zipfile.ZipFile(io.BytesIO(data)) as archived:
            self.assertRaises(RuntimeError, archived.read, archive_format.MANIFEST)
        self.assertNotIn("Grüße".encode(), data)
        self.wipe()
        for given, why in (("", "is encrypted"), ("other words here", "Wrong passphrase")):
            answer = self.taken_in(data, passphrase=given)
            self.assertEqual(answer.status_code, 400)
            self.assertIn(why, answer.json()["detail"])
        self.assertEqual(self.taken_in(data, passphrase=words).status_code, 201)
        self.assertEqual(rows_of(self.teacher), rows)

    def test_clips_without_consent_come_in_closed_and_only_when_that_was_said(self) -> None:
        self.fill()
        Student.objects.update(consent_until=self.today - DAYS)
        data = self.taken_out()
        self.wipe()
        answer = self.taken_in(data)
        self.assertEqual(answer.status_code, 409)
        self.assertIn("without consent today: Edda", answer.json()["detail"])
        self.assertFalse(Student.objects.exists() or any(Path(settings.CLIPS_DIR).iterdir()))
        self.assertEqual(self.taken_in(data, without_consent="true").status_code, 201)
        page = self.client.get(reverse("student", args=[Student.objects.get().pk])).json()
        self.assertIn("clips are locked", page["closed"])

    def test_a_band_with_students_is_not_mixed_up(self) -> None:
        data = self.taken_out()
        answer = self.taken_in(data)
        self.assertEqual(answer.status_code, 400)
        self.assertIn("already has students", answer.json()["detail"])
        self.assertEqual(Band.objects.count(), 1)

    def test_own_settings_stay(self) -> None:
        self.fill()
        data = self.taken_out()
        OwnStandard.objects.create(
            teacher=self.stranger, instrument="horn", edition=4, edges={}, school="seven-eighths"
        )
        other = Client()
        other.force_login(self.stranger)
        answer = self.taken_in(data, other)
        self.assertEqual(answer.json()["stayed"], ["own standard"])
        kept = OwnStandard.objects.get(teacher=self.stranger)
        self.assertEqual((kept.edition, kept.school), (4, "seven-eighths"))

    def test_moments_are_kept_to_the_microsecond(self) -> None:
        take = self.filmed(1)
        moment = timezone.now().replace(microsecond=123456)
        Take.objects.filter(pk=take.pk).update(read_at=moment, created_at=moment)
        data = self.taken_out()
        self.wipe()
        self.assertEqual(self.taken_in(data).status_code, 201)
        take.refresh_from_db()
        self.assertEqual((take.read_at, take.created_at), (moment, moment))


def changed(data: bytes, parts: dict[str, Any], how: int = zipfile.ZIP_STORED) -> bytes:
    """The archive with some entries replaced or left out, by the end of their names."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w", how) as new:
        for name in old.namelist():
            content: bytes | None = old.read(name)
            for end, to in parts.items():
                if name.endswith(end):
                    content = to(content) if callable(to) else to
            if content is not None:
                new.writestr(name, content)
    return out.getvalue()


def sealed_file(data: bytes, end: str, content: bytes, how: int = zipfile.ZIP_STORED) -> bytes:
    """The archive with its files of this name made another, and their checksums to fit."""
    with zipfile.ZipFile(io.BytesIO(data)) as archived:
        manifest = json.loads(archived.read(archive_format.MANIFEST))
    for entry in manifest["entries"]:
        if entry["name"].endswith(end):
            entry["bytes"], entry["sha256"] = len(content), hashlib.sha256(content).hexdigest()
    sealed = {end: content, archive_format.MANIFEST: json.dumps(manifest).encode()}
    return changed(data, sealed, how)


def resealed(data: bytes, name: str, old: bytes, new: bytes) -> bytes:
    """The archive with a table changed and its checksum made to fit, as somebody might who
    means harm."""
    with zipfile.ZipFile(io.BytesIO(data)) as archived:
        table = archived.read(name)
        manifest = json.loads(archived.read(archive_format.MANIFEST))
    assert old in table
    table = table.replace(old, new)
    entry = next(e for e in manifest["entries"] if e["name"] == name)
    entry["bytes"], entry["sha256"] = len(table), hashlib.sha256(table).hexdigest()
    return changed(data, {name: table, archive_format.MANIFEST: json.dumps(manifest).encode()})
