"""Improvements, what they are to move, and their history."""

import django.db.models.deletion
import fluctus.http.rendering
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    """Makes the tables."""

    initial = True

    dependencies = [
        ('accounts', '0004_tries_tokens_and_record'),
        ('findings', '0004_presence'),
        ('kpis', '0015_made_from_others'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Improvement',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('text', models.CharField(blank=True, max_length=2000)),
                ('began', models.DateField()),
                ('shift', models.CharField(blank=True, max_length=40)),
                ('version', models.PositiveIntegerField(default=1)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('removed_at', models.DateTimeField(null=True)),
                ('event', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='kpis.event')),
                ('finding', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='findings.finding')),
                ('owner', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('workspace', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='improvements', to='accounts.workspace')),
            ],
        ),
        migrations.CreateModel(
            name='Aim',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('wanted', models.CharField(choices=[('lower', 'Lower'), ('higher', 'Higher')], max_length=10)),
                ('amount', models.FloatField(null=True)),
                ('by', models.DateField(null=True)),
                ('worth', models.FloatField(null=True)),
                ('worth_unit', models.CharField(blank=True, max_length=10)),
                ('state', models.CharField(choices=[('no_baseline', 'no_baseline'), ('too_early', 'too_early'), ('no_sign', 'no_sign'), ('sign', 'sign'), ('moved', 'moved'), ('held', 'held'), ('faded', 'faded'), ('other_way', 'other_way')], default='too_early', max_length=15)),
                ('state_since', models.DateTimeField(auto_now_add=True)),
                ('outcome', models.JSONField(decoder=fluctus.http.rendering.NumberDecoder, default=dict)),
                ('kpi', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='aims', to='kpis.kpi')),
                ('improvement', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='aims', to='improvements.improvement')),
            ],
        ),
        migrations.CreateModel(
            name='ImprovementAct',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('text', models.CharField(max_length=500)),
                ('author', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('improvement', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='acts', to='improvements.improvement')),
            ],
        ),
        migrations.AddIndex(
            model_name='improvement',
            index=models.Index(fields=['workspace', '-began'], name='improvement_workspa_e9010e_idx'),
        ),
        migrations.AddConstraint(
            model_name='aim',
            constraint=models.UniqueConstraint(fields=('improvement', 'kpi'), name='one_aim_each_kpi'),
        ),
    ]
