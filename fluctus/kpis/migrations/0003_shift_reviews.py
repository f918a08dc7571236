
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('kpis', '0002_values_and_imports'),
    ]

    operations = [
        migrations.AddField(
            model_name='kpi',
            name='kept_limits',
            field=models.JSONField(default=list),
        ),
        migrations.AddField(
            model_name='segment',
            name='review',
            field=models.JSONField(default=dict),
        ),
    ]
