"""A database and an archive of the version before analyses were stored: they read the same."""

from __future__ import annotations

import json
import lzma
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase, tag
from django.urls import reverse

from sulvet.takes.models import Edit, Take, TakeAnalysis
from tests.base import BandTestCase

FIXTURES = Path(__file__).resolve().parents[1] / "fixtures" / "before-analyses"
#: What every take's page showed there.
PAGES: dict[str, Any] = json.loads((FIXTURES / "pages.json").read_text("utf-8"))
#: Read in the migrated database by a process of its own: take → page, before and after.
READ = """
import json, sys, django
django.setup()
from django.conf import settings
from django.contrib.auth.models import User
from django.test import Client
from sulvet.takes.models import Take
settings.ALLOWED_HOSTS.append("testserver")
client = Client()
client.force_login(User.objects.get())
found = {}
for take in Take.objects.order_by("pk"):
    address = f"/api/takes/{take.pk}/"
    found[take.original_name] = [
        client.get(address).json(), client.post(address + "refresh/").json(),
        client.get(address + "sound/").json(),
    ]
json.dump(found, sys.stdout)
"""


#: Measures that are read off the same marks in another way since: a turn that the nose does not
#: show is taken off the cheeks, how far a head is raised is less sure, the rim's lower edge is
#: judged on the horn, air in a tone is told by all that sounds, what collapses is less sure where
#: marks are, and the line to the chin begins on the skin's edge.
OTHERWISE = (
    "cheek_out", "head_nod", "rim_below_lip", "airiness", "collapse", "chin_hollow",
    "flesh_forward", "fold_count",
)  # fmt: skip


def readings_in(page: Any) -> dict[tuple[str, str], Any]:
    return {
        (r["measure"], r["phase"]): (r["value"], r["uncertainty"], r["unit"], r["verdict"])
        for r in page["readings"]
        if not r["measure"].startswith(OTHERWISE)
    }


def findings_in(page: Any) -> list[Any]:
    names = ("fault", "phase", "verdict", "start", "end", "answer", "answer_reason", "focus")
    return [[[found[name] for name in names], evidence_in(found)] for found in page["findings"]]


def evidence_in(found: Any) -> list[Any]:
    """What a finding rests on and the frame where it is worst, if that is read as it was."""
    if any(one["measure"].startswith(OTHERWISE) for one in found["evidence"]):
        return []
    kept = [{key: one[key] for key in one if key != "name"} for one in found["evidence"]]
    return [found["worst_frame"], kept]


class SameTestCase(SimpleTestCase):
    def same(self, name: str, page: Any) -> None:
        """A page shows what it showed before; only words may be better."""
        before = PAGES[name]
        self.assertEqual(readings_in(page), readings_in(before), name)
        self.assertEqual(findings_in(page), findings_in(before), name)
        phases = ("name", "start", "end", "by_teacher")
        self.assertEqual(
            [[p[part] for part in phases] for p in page["phases"]],
            [[p[part] for part in phases] for p in before["phases"]],
            name,
        )
        self.assertEqual(page["scale"] or before["scale"], before["scale"], name)
        for part in ("focus", "school", "standard", "undo"):
            self.assertEqual(page[part], before[part], (name, part))


@tag("database")
class DatabaseTests(SameTestCase):
    def test_it_migrates_and_every_page_shows_what_it_showed(self) -> None:
        with tempfile.TemporaryDirectory(prefix="sulvet-older-") as folder:
            database = Path(folder) / "sulvet.sqlite3"
            database.write_bytes(lzma.decompress((FIXTURES / "band.sqlite3.xz").read_bytes()))
            environment = {
                **os.environ,
                "SULVET_DATA": folder,
                "DATABASE_URL": "",
                "DJANGO_SETTINGS_MODULE": "sulvet.web.settings",
            }
            manage = [sys.executable, "manage.py", "migrate", "--verbosity=0"]
            subprocess.run(manage, cwd=settings.ROOT, env=environment, check=True)
            read = subprocess.run(
                [sys.executable, "-c", READ],
                cwd=settings.ROOT, env=environment, stdout=subprocess.PIPE, text=True, check=True,
            )  # fmt: skip
        pages = json.loads(read.stdout)
        self.assertEqual(set(pages), set(PAGES))
        for name, (stands, fresh, sound) in pages.items():
            # Until it is made anew the same readings and findings stand, and say so.
            self.assertEqual((stands["stale"], fresh["stale"]), (True, False))
            self.same(name, stands)
            self.same(name, fresh)
            self.assertIsNotNone(fresh["drawing"])
            self.assertEqual(
                readings_in(sound), readings_in({"readings": PAGES[name]["ear"]}), name
            )


@tag("database")
class ArchiveTests(BandTestCase, SameTestCase):
    def test_it_is_restored_and_every_page_shows_what_it_showed(self) -> None:
        self.client.force_login(self.stranger)
        upload = SimpleUploadedFile("band.zip", (FIXTURES / "band.zip").read_bytes())
        answer = self.client.post(reverse("archive"), {"archive": upload})
        self.assertEqual(answer.status_code, 201, answer.content)
        takes = Take.objects.filter(student__section__band__teacher=self.stranger)
        self.assertEqual({take.original_name for take in takes}, set(PAGES))
        self.assertEqual(TakeAnalysis.objects.count(), len(PAGES))
        self.assertTrue(all(edit.label for edit in Edit.objects.all()))
        for take in takes:
            stands = self.sent("get", reverse("take", args=[take.pk]))
            self.assertTrue(stands["stale"])
            self.same(take.original_name, stands)
            fresh = self.sent("post", reverse("refresh", args=[take.pk]))
            self.same(take.original_name, fresh)
