"""Whatever is sent to the API is answered with a sentence at worst: nothing fails inside.

Requests are made from the schema by a well-kept library, with what fits a parameter and what
does not; seeds are fixed. Half of the numbers in addresses are those of things that are there.
"""

from __future__ import annotations

import json
from collections import Counter
from typing import Any
from urllib.parse import urlencode

import cv2
import numpy as np
import schemathesis
from drf_spectacular.generators import SchemaGenerator
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis.generation import GenerationMode

from sulvet.closeups.models import CloseUp, CloseUpPicture
from sulvet.plans.models import Recheck
from sulvet.records.models import Note
from sulvet.reeds.models import Reed
from tests.records.base import DAYS, RecordCase

JPEG = cv2.imencode(".jpg", np.full((120, 90, 3), 128, np.uint8))[1].tobytes()
EXAMPLES = 4
#: Logging out ends the session that everything else needs.
LEFT_OUT = {"log_out", "open_booth", "log_out_everywhere", "delete_student", "change_password"}


class SchemaFuzzTests(RecordCase):
    def setUp(self) -> None:
        super().setUp()
        self.client.raise_request_exception = False
        self.statuses = Counter[int]()
        self.player = self.add_student("Carla", instrument="clarinet")
        self.made = self.from_demo("edda-front-12", 12, self.student)
        self.from_demo("edda-front-1", 1, self.student)
        reed = Reed.objects.create(student=self.player, slot=1, opened_on=self.today)
        photo = CloseUp.objects.create(
            student=self.player, original_name="r.jpg", width=90, height=120
        )
        CloseUpPicture.objects.create(close_up=photo, jpeg=JPEG)
        note = Note.objects.create(student=self.student, text="a", written_on=self.made.created_at)
        began = {"started_on": (self.today - 12 * DAYS).isoformat()}
        plan = self.sent("post", f"/api/takes/{self.made.pk}/plan/", began, 201)["running"]
        recheck = Recheck.objects.filter(plan=plan["id"]).first()
        self.there: dict[str, Any] = {
            "take_id": self.made.pk, "reed_id": reed.pk, "close_up_id": photo.pk,
            "note_id": note.pk, "plan_id": plan["id"],
            "recheck_id": recheck.pk if recheck else 1, "instrument": "horn",
            "measure": "corner_rise",
        }  # fmt: skip

    def answered(self, case: Any, own: bool) -> int:
        """The status of the answer to one made-up request."""
        names = dict(case.path_parameters or {})
        if own:
            student = self.player if "reed" in case.path or "close" in case.path else self.student
            names |= {k: v for k, v in self.there.items() if k in names}
            names |= {"student_id": student.pk} if "student_id" in names else {}
        path = case.path
        for name, value in names.items():
            path = path.replace(f"{{{name}}}", str(value))
        body: Any = case.body
        if body is NOTHING:
            body = b""
        elif case.media_type == "application/json" and not isinstance(body, bytes):
            body = json.dumps(body)
        elif not isinstance(body, str | bytes):
            body = b""
        headers = {k: v for k, v in (case.headers or {}).items() if _plain(k) and _plain(v)}
        answer = self.client.generic(
            case.method, path, body, case.media_type or "application/json",
            QUERY_STRING=urlencode(case.query or {}, doseq=True), headers=headers,
        )  # fmt: skip
        self.statuses[int(answer.status_code)] += 1
        return int(answer.status_code)

    def test_nothing_that_can_be_sent_fails_inside(self) -> None:
        document = SchemaGenerator().get_schema(public=True)  # type: ignore[no-untyped-call]
        schema = schemathesis.openapi.from_dict(document)
        tried = 0
        for found in schema.get_all_operations():
            operation: Any = found.ok()  # type: ignore[union-attr]
            if operation.definition.raw.get("operationId") in LEFT_OUT:
                continue
            tried += 1
            modes = [GenerationMode.POSITIVE]
            if _can_be_wrong(operation.definition.raw):
                modes.append(GenerationMode.NEGATIVE)
            for mode in modes:
                with self.subTest(operation=operation.label, mode=mode.name):
                    self.try_out(operation, mode)
        self.assertGreater(tried, 60)
        # Many got as far as there is something to fail: they were answered, not turned away.
        self.assertGreater(self.statuses[200], 100, self.statuses)

    def try_out(self, operation: Any, mode: GenerationMode) -> None:
        """Many requests for one operation."""

        @settings(
            max_examples=EXAMPLES, derandomize=True, database=None, deadline=None,
            phases=[Phase.generate], suppress_health_check=list(HealthCheck),
        )  # fmt: skip
        @given(case=operation.as_strategy(generation_mode=mode), own=st.booleans())
        def one(case: Any, own: bool) -> None:
            self.assertLess(self.answered(case, own), 500, case.as_curl_command())

        one()


NOTHING = schemathesis.core.NOT_SET


def _can_be_wrong(operation: dict[str, Any]) -> bool:
    """Whether there is anything that does not fit; any text is a token."""
    kinds = [parameter["schema"].get("type") for parameter in operation.get("parameters", [])]
    return "requestBody" in operation or any(kind != "string" for kind in kinds)


def _plain(value: Any) -> bool:
    return isinstance(value, str) and value.isascii() and value.isprintable()
