"""KPIs made from one or two others, in several ways."""

import django.db.models.deletion
from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def name_what_there_is(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    """So far a KPI was made from another one in one way."""
    apps.get_model("kpis", "Kpi").objects.filter(source__isnull=False).update(
        made_by="time_between"
    )


class Migration(migrations.Migration):
    """Adds how, from which other, times what, and what was left out."""

    dependencies = [("kpis", "0014_confirmed")]

    operations = [
        migrations.AddField(
            "kpi",
            "second",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="+",
                to="kpis.kpi",
            ),
        ),
        migrations.AddField(
            "kpi",
            "made_by",
            models.CharField(
                blank=True,
                choices=[
                    ("ratio", "ratio"),
                    ("sum", "sum"),
                    ("difference", "difference"),
                    ("multiple", "multiple"),
                    ("time_between", "time_between"),
                ],
                default="",
                max_length=15,
            ),
            preserve_default=False,
        ),
        migrations.AddField("kpi", "times", models.FloatField(default=1.0)),
        migrations.AddField("kpi", "left_out", models.JSONField(default=list)),
        migrations.RunPython(name_what_there_is, migrations.RunPython.noop),
    ]
