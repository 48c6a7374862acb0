"""A take, what the teacher set on it, and what followed from that.

Tracks and the analysis with its readings and findings are derived: they can be thrown away
and made again from the clip, the marks and the phases.
"""

from __future__ import annotations

import uuid
from pathlib import Path

from django.conf import settings
from django.db import models

from sulvet.band.models import Student
from sulvet.core.language import gettext_noop, said
from sulvet.core.phases import CLEAR, PHASES
from sulvet.core.video.proxy import PROXY
from sulvet.takes import storage


class Take(models.Model):
    """One clip of one student, and how far Sulvet has got with it."""

    class State(models.TextChoices):
        WAITING = "waiting", "waiting for analysis"
        WORKING = "working", "being analysed"
        NEEDS_MARKS = "needs-marks", "needs the teacher's marks"
        READY = "ready", "measured"
        FAILED = "failed", "could not be analysed"

    class View(models.TextChoices):
        FRONT = "front"
        SIDE = "side"

    class Purpose(models.TextChoices):
        CHECK = "check", "first look"
        RECHECK = "recheck", "recheck"

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="takes")
    folder = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    view = models.CharField(max_length=10, choices=View.choices, default=View.FRONT)
    purpose = models.CharField(max_length=10, choices=Purpose.choices, default=Purpose.CHECK)
    filmed_on = models.DateField()
    mirrored = models.BooleanField(default=False)
    #: Made of photos: what only movement shows is not judged.
    still = models.BooleanField(default=False)
    original_name = models.CharField(max_length=200)
    clip_name = models.CharField(max_length=30)
    #: As the container says, then as read; None while neither is known.
    clip_seconds = models.FloatField(null=True)
    width = models.PositiveIntegerField(default=0)
    height = models.PositiveIntegerField(default=0)
    frame_times = models.JSONField(default=list)
    #: Length between the marks ``kl_a`` and ``kl_b``, as the teacher knows it, mm.
    known_mm = models.FloatField(null=True, blank=True)
    state = models.CharField(max_length=12, choices=State.choices, default=State.WAITING)
    stage = models.CharField(max_length=20, blank=True)
    share = models.FloatField(default=0.0)
    message = models.TextField(blank=True)
    notes = models.JSONField(default=list)
    #: The job that may write results; an older job's results are dropped.
    job = models.UUIDField(null=True)
    #: What was asked for when, where somebody filmed under prompts: phases as name, start, end, s.
    prompts = models.JSONField(default=list)
    #: The rest face of another take, for a clip that shows none; see ``borrowing``.
    borrowed_rest = models.JSONField(null=True)
    heartbeat = models.DateTimeField(null=True)
    tries = models.PositiveSmallIntegerField(default=0)
    read_at = models.DateTimeField(null=True, blank=True)
    #: What the teacher saw, heard and felt that no camera shows: ids of ``observations.toml``.
    observations = models.JSONField(default=list)
    #: The fault the teacher made the focus; empty leaves it to the order of fixing.
    chosen_focus = models.CharField(max_length=40, blank=True)
    #: Counts edits, so that two windows never silently overwrite each other.
    revision = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-filmed_on", "-id"]
        indexes = [models.Index(fields=["state", "heartbeat"])]

    def __str__(self) -> str:
        return f"{self.student} {self.filmed_on}"

    @property
    def directory(self) -> Path:
        """Folder of the clip and all files made of it."""
        return Path(settings.CLIPS_DIR) / str(self.folder)

    @property
    def clip(self) -> Path:
        """The original file, as it came."""
        return storage.fetched(self.folder, self.clip_name)

    @property
    def proxy(self) -> Path:
        """The review copy."""
        return storage.fetched(self.folder, PROXY)

    def has(self, name: str) -> bool:
        """Whether there is a file of it, here or on the storage."""
        return storage.is_kept(self.folder, name)


class TakeSound(models.Model):
    """The sound of a take; beside it, since a list of takes has no use for its thousands of values.

    intended  what was to be played, as the teacher said
    heard     what is heard, made anew from the clip by another ear
    """

    take = models.OneToOneField(Take, on_delete=models.CASCADE, related_name="sound")
    intended = models.JSONField(default=dict)
    heard = models.JSONField(default=dict)


class TakePhase(models.Model):
    """A rehearsal mark, suggested or set by the teacher."""

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="phases")
    name = models.CharField(max_length=10, choices=[(p, p) for p in PHASES])
    start = models.FloatField()
    end = models.FloatField()
    by_teacher = models.BooleanField(default=False)
    #: How sure a suggestion is, 0..1; the teacher's own are 1.
    confidence = models.FloatField(default=1.0)

    class Meta:
        ordering = ["start", "id"]

    @property
    def guessed(self) -> bool:
        """Whether it is a suggestion that is not sure enough to be shown as known."""
        return not self.by_teacher and self.confidence < CLEAR


class Mark(models.Model):
    """A landmark on one frame from which following starts, in pixels of the upright picture."""

    class Source(models.TextChoices):
        FOUND = "found"
        PLACED = "placed"

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="marks")
    landmark = models.CharField(max_length=20)
    frame = models.PositiveIntegerField()
    x = models.FloatField()
    y = models.FloatField()
    sigma = models.FloatField()
    hidden = models.BooleanField(default=False)
    source = models.CharField(max_length=10, choices=Source.choices)

    class Meta:
        ordering = ["landmark", "frame"]
        constraints = [
            models.UniqueConstraint(
                fields=["take", "landmark", "frame", "source"], name="one_mark_a_frame"
            )
        ]


class Track(models.Model):
    """One landmark through a whole take, packed; see ``tracks.pack``."""

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="tracks")
    landmark = models.CharField(max_length=20)
    data = models.BinaryField()
    engine = models.CharField(max_length=10)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["take", "landmark"], name="one_track")]


class TakeAnalysis(models.Model):
    """What followed from a take, and by what that was made; with its readings and findings.

    drawing  the measured drawing over the hold, without its frames
    stills   frames to lay beside another take's
    scale    what millimetres rest on, and its relative 95 % uncertainty
    frames   what is said of every frame, packed; see ``core.analysis.FrameData``
    coverage what was checked and what not, as ``core.judgement.coverage`` keeps it; None of an
             analysis older than that
    """

    take = models.OneToOneField(Take, on_delete=models.CASCADE, related_name="analysis")
    engine = models.CharField(max_length=10)
    ear = models.CharField(max_length=10)
    standard = models.CharField(max_length=40)
    school = models.CharField(max_length=30)
    edition = models.PositiveSmallIntegerField()
    drawing = models.JSONField(null=True)
    stills = models.JSONField(null=True)
    scale = models.JSONField(null=True)
    frames = models.BinaryField()
    coverage = models.JSONField(null=True)


class Reading(models.Model):
    """A measured value of one phase ± its 95 % uncertainty.

    nth    which of several phases of that name; several holds are one reading
    worst  of several holds the one farthest out; None where there is only one
    """

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="readings")
    measure = models.CharField(max_length=30)
    phase = models.CharField(max_length=10)
    nth = models.PositiveSmallIntegerField(default=0)
    value = models.FloatField(null=True)
    uncertainty = models.FloatField(null=True)
    unit = models.CharField(max_length=10)
    verdict = models.CharField(max_length=12)
    reason = models.TextField(blank=True)
    worst = models.JSONField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["take", "measure", "phase", "nth"], name="one_reading")
        ]


class Finding(models.Model):
    """A fault, a thing to watch, or why it can't be told; the first comes first.

    nth    which of several of that fault in phases of that name
    holds  in which of several holds it is found, from 1; empty where there is only one
    """

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="findings")
    fault = models.CharField(max_length=40)
    verdict = models.CharField(max_length=12)
    phase = models.CharField(max_length=10)
    nth = models.PositiveSmallIntegerField(default=0)
    start = models.FloatField(null=True)
    end = models.FloatField(null=True)
    worst_frame = models.PositiveIntegerField(null=True)
    evidence = models.JSONField(default=list)
    reason = models.TextField(blank=True)
    holds = models.JSONField(default=list)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["take", "fault", "phase", "nth"], name="one_finding")
        ]


class Decision(models.Model):
    """What the teacher says to a finding. Kept beside it, never lost when it is made anew."""

    class Answer(models.TextChoices):
        CONFIRMED = "confirmed"
        DISMISSED = "dismissed"
        #: Not the program's: the teacher saw it.
        ADDED = "added"

    class Why(models.TextChoices):
        """Why a finding is dismissed."""

        NOT_SO = "not-so", gettext_noop("Not so")
        CAMERA = "camera", gettext_noop("The camera")
        LATER = "later", gettext_noop("Later")

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="decisions")
    fault = models.CharField(max_length=40)
    phase = models.CharField(max_length=10)
    answer = models.CharField(max_length=10, choices=Answer.choices)
    why = models.CharField(max_length=10, blank=True, choices=Why.choices)
    reason = models.CharField(max_length=300, blank=True)
    decided_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["take", "fault", "phase"], name="one_decision")
        ]

    @property
    def said(self) -> str:
        """Why, and in what words."""
        return ", ".join(filter(None, (said(self.get_why_display()), self.reason)))


class SaidFirst(models.Model):
    """What the teacher saw on a take before anything of it was shown.

    faults  ids; none for "nothing";  untold  "can't be told from here"
    """

    take = models.OneToOneField(Take, on_delete=models.CASCADE, related_name="said_first")
    faults = models.JSONField(default=list)
    untold = models.BooleanField(default=False)
    said_at = models.DateTimeField(auto_now_add=True)


class Edit(models.Model):
    """One edit of a take by the teacher, with the touched parts before and after; newest first."""

    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="edits")
    label = models.CharField(max_length=200)
    before = models.JSONField()
    after = models.JSONField()
    undone = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]


class Discarded(models.Model):
    """A folder of a deleted take whose files are still to be removed.

    Written with the deletion itself: whatever ends between the two, the sweep knows.
    """

    folder = models.UUIDField(primary_key=True)
