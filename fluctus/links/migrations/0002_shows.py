"""What a link shows beside a chart is chosen where it is made."""

import fluctus.links.models
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('links', '0001_links'),
    ]

    operations = [
        migrations.AddField(
            model_name='link',
            name='shows',
            field=models.JSONField(default=fluctus.links.models.all_shown),
        ),
    ]
