"""Pictures of pages are made once and kept with their report."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('reports', '0002_jobs'),
    ]

    operations = [
        migrations.CreateModel(
            name='ReportPage',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField()),
                ('content', models.BinaryField()),
                ('report', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='pictures', to='reports.report')),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('report', 'number'), name='one_picture_a_page')],
            },
        ),
    ]
