"""A KPI has a summary, which says what attention it wants; an act on a page has a state."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("overview", "0001_overview"), ("kpis", "0013_states_of_acts")]
    operations = [
        migrations.RenameModel("KpiStanding", "KpiSummary"),
        migrations.RenameField("kpisummary", "standing", "attention"),
        migrations.AlterField(
            "kpisummary",
            "kpi",
            models.OneToOneField(
                on_delete=django.db.models.deletion.CASCADE,
                primary_key=True,
                related_name="summary",
                serialize=False,
                to="kpis.kpi",
            ),
        ),
        migrations.RenameField("pagechange", "standing", "state"),
    ]
