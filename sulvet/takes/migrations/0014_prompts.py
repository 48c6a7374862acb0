"""What was asked for when, of a take that was filmed under prompts."""

from __future__ import annotations

from typing import ClassVar

from django.db import migrations, models


class Migration(migrations.Migration):
    """One column."""

    dependencies: ClassVar = [("takes", "0013_several_holds")]
    operations: ClassVar = [
        migrations.AddField("take", "prompts", models.JSONField(default=list)),
    ]
