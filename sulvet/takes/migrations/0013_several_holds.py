"""Several holds of a take are one reading, with the worst of them named."""

from __future__ import annotations

from typing import ClassVar

from django.db import migrations, models


class Migration(migrations.Migration):
    """Two columns; what is stored stays as it is."""

    dependencies: ClassVar = [("takes", "0012_why")]
    operations: ClassVar = [
        migrations.AddField("reading", "worst", models.JSONField(null=True)),
        migrations.AddField("finding", "holds", models.JSONField(default=list)),
    ]
