import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def name_who_wrote_what_is_there(apps, schema_editor):
    """Give the values that came before acts were kept one act for each KPI."""
    change, kpi, observation = (
        apps.get_model("kpis", name) for name in ("DataChange", "Kpi", "Observation")
    )
    for one in kpi.objects.all():
        own = observation.objects.filter(kpi=one)
        act = change.objects.create(kpi=one, summary="Came with the KPI", added=own.count())
        own.update(written_by=act)


class Migration(migrations.Migration):

    dependencies = [
        ('kpis', '0001_initial'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='DataChange',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('summary', models.CharField(max_length=200)),
                ('added', models.PositiveIntegerField(default=0)),
                ('changed', models.PositiveIntegerField(default=0)),
                ('removed', models.PositiveIntegerField(default=0)),
                ('later_too', models.BooleanField(default=False)),
            ],
        ),
        migrations.CreateModel(
            name='PastValue',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('period', models.DateTimeField()),
                ('breakdown', models.CharField(blank=True, max_length=120)),
                ('value', models.FloatField()),
                ('numerator', models.FloatField(null=True)),
                ('denominator', models.FloatField(null=True)),
                ('target', models.FloatField(null=True)),
                ('rows', models.PositiveIntegerField(default=1)),
                ('note', models.CharField(blank=True, max_length=500)),
                ('set_aside', models.BooleanField(default=False)),
                ('reason', models.CharField(blank=True, max_length=200)),
            ],
        ),
        migrations.RemoveConstraint(
            model_name='observation',
            name='one_value_per_period',
        ),
        migrations.AddField(
            model_name='kpi',
            name='aggregation',
            field=models.CharField(choices=[('sum', 'sum'), ('mean', 'mean'), ('median', 'median'), ('minimum', 'minimum'), ('maximum', 'maximum'), ('first', 'first'), ('last', 'last'), ('count', 'count'), ('ratio', 'ratio')], default='mean', max_length=10),
        ),
        migrations.AddField(
            model_name='kpi',
            name='breakdowns',
            field=models.JSONField(default=list),
        ),
        migrations.AddField(
            model_name='kpi',
            name='first_month',
            field=models.PositiveSmallIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='kpi',
            name='first_weekday',
            field=models.PositiveSmallIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='observation',
            name='breakdown',
            field=models.CharField(blank=True, max_length=120),
        ),
        migrations.AddField(
            model_name='observation',
            name='denominator',
            field=models.FloatField(null=True),
        ),
        migrations.AddField(
            model_name='observation',
            name='note',
            field=models.CharField(blank=True, max_length=500),
        ),
        migrations.AddField(
            model_name='observation',
            name='numerator',
            field=models.FloatField(null=True),
        ),
        migrations.AddField(
            model_name='observation',
            name='rows',
            field=models.PositiveIntegerField(default=1),
        ),
        migrations.AddField(
            model_name='observation',
            name='target',
            field=models.FloatField(null=True),
        ),
        migrations.AlterField(
            model_name='observation',
            name='kpi',
            field=models.ForeignKey(db_constraint=False, db_index=False, on_delete=django.db.models.deletion.CASCADE, related_name='observations', to='kpis.kpi'),
        ),
        migrations.AddField(
            model_name='datachange',
            name='author',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='datachange',
            name='kpi',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='data_changes', to='kpis.kpi'),
        ),
        migrations.AddField(
            model_name='datachange',
            name='undoes',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='+', to='kpis.datachange'),
        ),
        migrations.AddField(
            model_name='datachange',
            name='undone_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='kpis.datachange'),
        ),
        migrations.AddField(
            model_name='chartchange',
            name='data',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='kpis.datachange'),
        ),
        migrations.AddField(
            model_name='observation',
            name='written_by',
            field=models.ForeignKey(db_constraint=False, db_index=False, default=0, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='kpis.datachange'),
            preserve_default=False,
        ),
        migrations.RunPython(name_who_wrote_what_is_there, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name='observation',
            constraint=models.UniqueConstraint(fields=('kpi', 'period', 'breakdown'), name='one_value_per_period'),
        ),
        migrations.AddField(
            model_name='pastvalue',
            name='kpi',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='past_values', to='kpis.kpi'),
        ),
        migrations.AddField(
            model_name='pastvalue',
            name='replaced_by',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='replaced_values', to='kpis.datachange'),
        ),
        migrations.AddField(
            model_name='pastvalue',
            name='written_by',
            field=models.ForeignKey(db_constraint=False, db_index=False, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='kpis.datachange'),
        ),
        migrations.AddIndex(
            model_name='pastvalue',
            index=models.Index(fields=['kpi', 'period', 'breakdown'], name='kpis_pastva_kpi_id_f8eaab_idx'),
        ),
    ]
