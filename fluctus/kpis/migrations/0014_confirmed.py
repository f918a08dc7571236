"""Values far off that are right, and candidates that say whether there is evidence of a change."""

from django.db import migrations, models


class Migration(migrations.Migration):
    """Charts are judged anew when the program starts: their digest has an earlier format."""

    dependencies = [("kpis", "0013_states_of_acts")]

    operations = [
        migrations.AddField("kpi", "confirmed", models.JSONField(default=list)),
        migrations.RunSQL(
            "UPDATE kpis_kpi SET proposals = proposals - 'candidates'",
            migrations.RunSQL.noop,
        ),
    ]
