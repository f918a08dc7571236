"""Imports are jobs like others, and of data packages as well."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('intake', '0002_longer_names'),
        ('kpis', '0012_time_and_order'),
    ]

    operations = [
        migrations.RemoveField(
            model_name='import',
            name='cancel_asked',
        ),
        migrations.AddField(
            model_name='import',
            name='events',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='kpis.eventimport'),
        ),
        migrations.AddField(
            model_name='import',
            name='kind',
            field=models.CharField(choices=[('table', 'Table'), ('package', 'Package')], default='table', max_length=10),
        ),
        migrations.AddField(
            model_name='import',
            name='role',
            field=models.CharField(choices=[('viewer', 'Viewer'), ('contributor', 'Contributor'), ('editor', 'Editor'), ('owner', 'Owner')], default='owner', max_length=12),
        ),
        migrations.AlterField(
            model_name='import',
            name='mapping',
            field=models.JSONField(default=dict),
        ),
        migrations.AlterField(
            model_name='import',
            name='stage',
            field=models.CharField(blank=True, max_length=160),
        ),
    ]
