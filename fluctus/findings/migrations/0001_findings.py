import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('kpis', '0004_events_patterns_and_proposals'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Finding',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('rule', models.CharField(choices=[('outside_limits', 'outside_limits'), ('range_outside_limit', 'range_outside_limit'), ('run', 'run'), ('near_limit', 'near_limit'), ('two_of_three_beyond_two_sigma', 'two_of_three_beyond_two_sigma'), ('four_of_five_beyond_one_sigma', 'four_of_five_beyond_one_sigma'), ('six_trending', 'six_trending'), ('fifteen_within_one_sigma', 'fifteen_within_one_sigma'), ('eight_beyond_one_sigma', 'eight_beyond_one_sigma'), ('fourteen_alternating', 'fourteen_alternating')], max_length=40)),
                ('side', models.SmallIntegerField()),
                ('first', models.DateTimeField()),
                ('last', models.DateTimeField()),
                ('points', models.PositiveIntegerField()),
                ('in_last_segment', models.BooleanField()),
                ('favorable', models.BooleanField(null=True)),
                ('title', models.CharField(max_length=120)),
                ('text', models.CharField(max_length=400)),
                ('label', models.CharField(max_length=60)),
                ('state', models.CharField(choices=[('open', 'Open'), ('looking', 'Looking'), ('explained', 'Explained'), ('aside', 'Aside'), ('shift', 'Shift')], default='open', max_length=10)),
                ('state_before', models.CharField(blank=True, choices=[('open', 'Open'), ('looking', 'Looking'), ('explained', 'Explained'), ('aside', 'Aside'), ('shift', 'Shift')], max_length=10)),
                ('standing', models.CharField(choices=[('present', 'Present'), ('gone', 'Gone')], default='present', max_length=10)),
                ('cause', models.CharField(blank=True, max_length=500)),
                ('action', models.CharField(blank=True, max_length=500)),
                ('due', models.DateField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('found_at', models.DateTimeField(auto_now_add=True)),
                ('kpi', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='findings', to='kpis.kpi')),
                ('person', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Entry',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('remark', models.BooleanField(default=False)),
                ('text', models.CharField(max_length=2000)),
                ('author', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL)),
                ('finding', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='entries', to='findings.finding')),
            ],
        ),
        migrations.AddIndex(
            model_name='finding',
            index=models.Index(fields=['kpi', 'first'], name='findings_fi_kpi_id_4cb816_idx'),
        ),
        migrations.AddIndex(
            model_name='finding',
            index=models.Index(fields=['first', 'id'], name='findings_fi_first_5341a7_idx'),
        ),
    ]
