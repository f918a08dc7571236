"""Reports are jobs like others."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('reports', '0001_reports'),
    ]

    operations = [
        migrations.RemoveField(
            model_name='report',
            name='cancel_asked',
        ),
        migrations.AlterField(
            model_name='report',
            name='status',
            field=models.CharField(choices=[('waiting', 'Waiting'), ('running', 'Running'), ('done', 'Done'), ('failed', 'Failed'), ('cancelled', 'Cancelled'), ('undone', 'Undone')], default='waiting', max_length=10),
        ),
    ]
