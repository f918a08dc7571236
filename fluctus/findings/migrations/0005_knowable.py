"""Findings say when they could first be known; of those there are, that is when they were found."""

from django.db import migrations, models

import fluctus.http.clock


class Migration(migrations.Migration):
    dependencies = [("findings", "0004_presence")]
    operations = [
        migrations.AddField(
            "finding", "knowable_at", models.DateTimeField(default=fluctus.http.clock.now)
        ),
        migrations.RunSQL(
            "UPDATE findings_finding SET knowable_at = found_at", migrations.RunSQL.noop
        ),
    ]
