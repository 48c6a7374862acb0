"""One stored analysis a take in place of columns that every reading and finding repeated."""

from collections import Counter

import django.db.models.deletion
from django.db import migrations, models


def gather(apps, schema_editor):
    """Each take's readings, drawing and stills come under one analysis.

    What it says of every frame was never kept: the edition, which is an older one, says that
    the analysis is to be made anew. Until then readings and findings stand as they were.
    """
    Take = apps.get_model("takes", "Take")
    Reading = apps.get_model("takes", "Reading")
    Finding = apps.get_model("takes", "Finding")
    TakeAnalysis = apps.get_model("takes", "TakeAnalysis")
    TakeSound = apps.get_model("takes", "TakeSound")
    ears = {
        take_id: heard.get("ear", "")
        for take_id, heard in TakeSound.objects.values_list("take_id", "heard")
    }
    for take in Take.objects.only("pk", "drawn", "stills").iterator(100):
        readings = list(Reading.objects.filter(take_id=take.pk).order_by("pk"))
        findings = list(Finding.objects.filter(take_id=take.pk).order_by("pk"))
        first = next(iter([*readings, *findings]), None)
        if first is None:
            continue
        number(Reading, readings, "measure")
        number(Finding, findings, "fault")
        drawn = take.drawn or {}
        TakeAnalysis.objects.create(
            take_id=take.pk,
            engine=first.engine,
            ear=ears.get(take.pk, ""),
            standard=first.standard,
            school=first.school,
            edition=min(int(drawn.get("edition", 0)), 3),
            drawing=None,
            stills=None,
            scale=None,
            frames=b"",
        )


def number(model, rows, name):
    """Which of several of one kind in phases of one name."""
    seen = Counter()
    for row in rows:
        key = (getattr(row, name), row.phase)
        row.nth = seen[key]
        seen[key] += 1
    model.objects.bulk_update([row for row in rows if row.nth], ["nth"])


class Migration(migrations.Migration):

    dependencies = [("takes", "0006_hearing")]

    operations = [
        migrations.RenameModel("Hearing", "TakeSound"),
        migrations.RenameField("takesound", "aim", "intended"),
        migrations.RenameField("edit", "words", "label"),
        migrations.AlterField(
            model_name="takesound",
            name="take",
            field=models.OneToOneField(
                on_delete=django.db.models.deletion.CASCADE, related_name="sound", to="takes.take"
            ),
        ),
        migrations.CreateModel(
            name="TakeAnalysis",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("engine", models.CharField(max_length=10)),
                ("ear", models.CharField(max_length=10)),
                ("standard", models.CharField(max_length=40)),
                ("school", models.CharField(max_length=30)),
                ("edition", models.PositiveSmallIntegerField()),
                ("drawing", models.JSONField(null=True)),
                ("stills", models.JSONField(null=True)),
                ("scale", models.JSONField(null=True)),
                ("frames", models.BinaryField()),
                ("take", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="analysis", to="takes.take")),
            ],
        ),
        migrations.AddField("reading", "nth", models.PositiveSmallIntegerField(default=0)),
        migrations.AddField("finding", "nth", models.PositiveSmallIntegerField(default=0)),
        migrations.RunPython(gather, migrations.RunPython.noop),
        *(
            migrations.RemoveField(model, name)
            for model in ("reading", "finding")
            for name in ("engine", "standard", "school")
        ),
        migrations.RemoveField("take", "drawn"),
        migrations.RemoveField("take", "stills"),
        migrations.AddConstraint(
            "reading",
            models.UniqueConstraint(fields=["take", "measure", "phase", "nth"], name="one_reading"),
        ),
        migrations.AddConstraint(
            "finding",
            models.UniqueConstraint(fields=["take", "fault", "phase", "nth"], name="one_finding"),
        ),
    ]
