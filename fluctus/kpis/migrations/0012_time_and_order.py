"""When charts are renewed without a write, and which act on values an act on a chart followed."""

from django.db import migrations, models


NEWEST_DATA = '''
    UPDATE kpis_chartchange act SET newest_data = GREATEST(COALESCE(act.data_id, 0), COALESCE((
        SELECT max(data.id) FROM kpis_datachange data
        WHERE data.kpi_id = act.kpi_id AND data.at <= act.at
    ), 0))
'''
"""By their times, which is all that was kept so far."""


class Migration(migrations.Migration):

    dependencies = [
        ('kpis', '0011_lines_and_axes'),
    ]

    operations = [
        migrations.AddField(
            model_name='chartchange',
            name='newest_data',
            field=models.PositiveBigIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='kpi',
            name='logged',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='kpi',
            name='renew_at',
            field=models.DateTimeField(db_index=True, null=True),
        ),
        migrations.RunSQL(NEWEST_DATA, migrations.RunSQL.noop),
    ]
