"""Reads never write; what stands is out of date by one rule and made anew by one command."""

from __future__ import annotations

import re
import uuid
from unittest import mock

from django.db import connection, transaction
from django.db.utils import IntegrityError
from django.test import tag
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from drf_spectacular.generators import SchemaGenerator

from sulvet.booth.links import make, token_of
from sulvet.core.judgement import judge as core
from sulvet.eye.services import begin
from sulvet.plans.models import Plan
from sulvet.plans.services import PlanFacts, start_plan
from sulvet.records.services import add_note
from sulvet.reeds.services import ReedFacts, add_reed
from sulvet.takes import analysis, worker
from sulvet.takes.models import Finding, Reading, Take, TakeAnalysis
from tests.records.base import RecordCase

WRITES = re.compile(r"\s*(INSERT|UPDATE|DELETE|REPLACE|CREATE|DROP)\b", re.IGNORECASE)
#: Addresses beside the schema: files, and private media.
FILES = (
    "/api/takes/{take}/marks.json", "/api/takes/{take}/report.json", "/api/takes/{take}/slip.pdf",
    "/api/slips.pdf?students={student}", "/api/readings.csv", "/api/findings.csv",
    "/api/archive.zip", "/api/rechecks.ics", "/api/sectionals.csv",
    "/api/takes/{take}/notes.vtt", "/private/takes/{take}/clip.mp4",
    "/private/takes/{take}/frames/0.jpg",
)  # fmt: skip


@tag("database")
class ReadsTests(RecordCase):
    """Everything out of date, so that whatever wanted to make it anew would."""

    def setUp(self) -> None:
        super().setUp()
        self.then = self.from_demo("edda-front-16", 16, self.student, heard=True)
        self.now = self.from_demo("edda-front-12", 12, self.student, heard=True)
        start_plan(self.teacher, self.now, PlanFacts(started_on=self.now.filmed_on))
        self.note = add_note(self.student, "A note.")
        self.reed = add_reed(self.add_student("Aino", instrument="clarinet"), ReedFacts("2"))
        TakeAnalysis.objects.update(engine="0", ear="0")

    def addresses(self) -> list[str]:
        plan = Plan.objects.get()
        numbers = {
            "take_id": self.now.pk, "student_id": self.student.pk, "note_id": self.note.pk,
            "plan_id": plan.pk, "recheck_id": plan.rechecks.all()[0].pk,
            "reed_id": self.reed.pk, "instrument": "horn", "measure": "corner_rise",
            "close_up_id": 1, "upload": uuid.uuid4(), "count": 3,
            "token": token_of(make(self.now.student, "front", 7, page=True)),
            "round_id": begin(self.teacher, "horn", "clear").pk,
        }  # fmt: skip
        schema = SchemaGenerator().get_schema(request=None, public=True)  # type: ignore[no-untyped-call]
        named = [path for path, methods in schema["paths"].items() if "get" in methods]
        files = [f.format(take=self.now.pk, student=self.student.pk) for f in FILES]
        return [path.format(**numbers) for path in named] + files

    def test_no_get_inserts_updates_or_deletes(self) -> None:
        addresses = self.addresses()
        self.assertGreater(len(addresses), 30)
        answered = 0
        for address in addresses:
            with self.subTest(address), CaptureQueriesContext(connection) as queries:
                answer = self.client.get(address)
                if answer.streaming:
                    list(answer)
            answered += answer.status_code == 200
            written = [q["sql"][:120] for q in queries if WRITES.match(q["sql"])]
            self.assertEqual(written, [], address)
        self.assertGreater(answered, 25)

    def test_what_is_out_of_date_is_said_until_it_is_made_anew(self) -> None:
        address = reverse("take", args=[self.now.pk])
        stale = self.sent("get", address)
        self.assertTrue(stale["stale"])
        self.assertGreater(len(stale["readings"]), 5)
        fresh = self.sent("post", reverse("refresh", args=[self.now.pk]))
        self.assertFalse(fresh["stale"])
        self.assertEqual(fresh["findings"], stale["findings"])

    def test_asked_for_twice_at_once_it_is_there_once(self) -> None:
        """Two windows after a change of school: before, 32 readings stood where 16 belong."""
        first, second = (Take.objects.get(pk=self.now.pk) for _ in range(2))
        made = [analysis.make(take) for take in (first, second)]
        before = self.now.readings.count()
        for take, one in zip((first, second), made, strict=True):
            analysis.save(take, one)
            rows = take.readings.values_list("measure", "phase", "nth")
            self.assertEqual((len(rows), len(set(rows))), (before, before))

    def test_the_database_itself_holds_no_reading_or_finding_twice(self) -> None:
        for model in (Reading, Finding):
            row = model.objects.filter(take=self.now).first()
            assert row is not None
            row.pk = None
            with self.assertRaises(IntegrityError), transaction.atomic():
                row.save()

    def test_the_worker_makes_anew_what_is_out_of_date(self) -> None:
        self.assertEqual(TakeAnalysis.objects.filter(engine="0").count(), 2)
        worker.refresh()
        self.assertFalse(TakeAnalysis.objects.filter(engine="0").exists())

    def test_what_changed_meanwhile_is_not_overwritten(self) -> None:
        mine = Take.objects.get(pk=self.now.pk)
        Take.objects.filter(pk=mine.pk).update(revision=mine.revision + 1)
        analysis.refresh(mine)
        self.assertEqual(TakeAnalysis.objects.get(take=mine).engine, "0")


@tag("database")
class AnswersTests(RecordCase):
    """What a teacher says of a take touches no measure."""

    def test_no_answer_measures_and_queries_stay_few(self) -> None:
        take = self.from_demo("edda-front-12", 12, self.student, heard=True)
        bench = reverse("take", args=[take.pk])
        with CaptureQueriesContext(connection) as queries:
            page = self.sent("get", bench)
        # 36 before.
        self.assertLess(len(queries), 20)
        finding = next(f for f in page["findings"] if f["verdict"] == "fault")
        decision = {"fault": finding["fault"], "phase": finding["phase"], "answer": "confirmed"}
        with mock.patch.object(core, "measure", side_effect=AssertionError("measured again")):
            with CaptureQueriesContext(connection) as queries:
                self.sent("put", reverse("decisions", args=[take.pk]), decision)
            # 58 before, a whole measuring among them.
            self.assertLess(len(queries), 45)
            self.sent("put", reverse("observations", args=[take.pk]), {"seen": ["airy"]})
            self.sent("put", reverse("focus", args=[take.pk]), {"fault": finding["fault"]})
            self.sent("patch", bench, {"read": True})
            self.sent("post", reverse("undo", args=[take.pk]))
            self.sent("get", reverse("then-and-now", args=[self.student.pk]))
            self.sent("get", reverse("band"))
