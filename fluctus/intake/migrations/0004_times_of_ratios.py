"""Ratios that came from tables say what their numerators were multiplied by."""

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def note_times(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    """Take the factor that the ratio of a table was brought in with; a table makes one."""
    rows = apps.get_model("intake", "ImportPart").objects.filter(
        created=True, kpi__aggregation="ratio", kpi__made_by=""
    )
    for part in rows.select_related("whole", "kpi"):
        choices = part.whole.mapping.get("kpis", {}).values()
        factors = [
            choice["factor"]
            for choice in choices
            if choice.get("aggregation") == "ratio" and choice.get("factor", 1.0) != 1.0
        ]
        if len(factors) == 1:
            part.kpi.times = factors[0]
            part.kpi.save(update_fields=["times"])


class Migration(migrations.Migration):
    """So that both numbers of a ratio can be shown as they came."""

    dependencies = [("intake", "0003_packages_and_jobs"), ("kpis", "0015_made_from_others")]

    operations = [migrations.RunPython(note_times, migrations.RunPython.noop)]
