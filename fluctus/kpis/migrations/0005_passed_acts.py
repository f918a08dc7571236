from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('kpis', '0004_events_patterns_and_proposals'),
    ]

    operations = [
        migrations.AlterField(
            model_name='chartchange',
            name='standing',
            field=models.CharField(choices=[('kept', 'Kept'), ('undone', 'Undone'), ('replaced', 'Replaced'), ('passed', 'Passed')], default='kept', max_length=10),
        ),
    ]
