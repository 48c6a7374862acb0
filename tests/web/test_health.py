"""What machines ask: readiness, figures, and logs that keep a secret."""

from __future__ import annotations

import logging
from unittest import mock

from django.test import SimpleTestCase, override_settings, tag
from django.urls import reverse

from sulvet.takes import storage
from sulvet.takes.models import Take
from sulvet.web import health
from sulvet.web.logs import Masked
from sulvet.web.services import clip_storage, tasks
from tests.base import BandTestCase


@tag("database")
class ReadyTests(BandTestCase):
    def test_what_does_not_answer_is_named(self) -> None:
        self.client.logout()
        self.assertEqual(self.sent("get", reverse("ready"))["ready"], True)
        with mock.patch.object(storage, "shared", side_effect=OSError):
            page = self.sent("get", reverse("ready"), expect=503)
        self.assertEqual(
            page, {"ready": False, "database": "ok", "storage": health.AWAY, "queue": "ok"}
        )

    def test_figures_are_for_who_has_the_token(self) -> None:
        self.add_take(state=Take.State.WAITING)
        self.assertEqual(self.client.get(reverse("metrics")).status_code, 404)
        with override_settings(METRICS_TOKEN="a-token"):
            self.assertEqual(self.client.get(reverse("metrics")).status_code, 404)
            answer = self.client.get(
                reverse("metrics"), headers={"Authorization": "Bearer a-token"}
            )
        text = answer.content.decode()
        self.assertIn('sulvet_takes{state="waiting"} 1.0', text)
        self.assertIn('address="metrics"', text)
        self.assertNotIn("Edda", text)


@tag("database")
class LogTests(SimpleTestCase):
    def test_an_address_that_lets_somebody_in_is_not_written_down(self) -> None:
        record = logging.LogRecord(
            "django.request", logging.WARNING, "", 0, "%s: %s", ("Gone", "/api/film/1:secret/x/"),
            None,
        )  # fmt: skip
        record.request = object()
        self.assertTrue(Masked().filter(record))
        self.assertEqual(record.getMessage(), "Gone: /api/film/…/x/")
        self.assertFalse(hasattr(record, "request"))


@tag("database")
class AddressTests(SimpleTestCase):
    def test_addresses_of_servers(self) -> None:
        found = clip_storage("s3://key:se%2Fcret@127.0.0.1:9000/clips?tls=no&signed=60")["clips"]
        told = found["OPTIONS"]
        self.assertEqual(
            (told["endpoint_url"], told["bucket_name"], told["secret_key"]),
            ("http://127.0.0.1:9000", "clips", "se/cret"),
        )
        self.assertEqual(told["querystring_expire"], 60)
        self.assertEqual(clip_storage(""), {})
        for wrong in ("s3://host", "https://host/bucket", "s3://host/a/b"):
            with self.assertRaisesMessage(Exception, "STORAGE_URL must look like"):
                clip_storage(wrong)
        with self.assertRaisesMessage(Exception, "TASKS_URL must begin with redis://"):
            tasks("amqp://host")
