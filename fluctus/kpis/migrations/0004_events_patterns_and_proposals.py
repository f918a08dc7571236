import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('accounts', '0001_initial'),
        ('kpis', '0003_shift_reviews'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='chartchange',
            name='event',
            field=models.JSONField(null=True),
        ),
        migrations.AddField(
            model_name='chartchange',
            name='revision',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='chartchange',
            name='turned_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='chartchange',
            name='turned_by',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddField(
            model_name='kpi',
            name='proposals',
            field=models.JSONField(default=dict),
        ),
        migrations.AddField(
            model_name='kpi',
            name='unexplained',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='segment',
            name='follows',
            field=models.CharField(choices=[('level', 'level'), ('trend', 'trend'), ('weekday', 'weekday'), ('month', 'month'), ('quarter', 'quarter')], default='level', max_length=10),
        ),
        migrations.CreateModel(
            name='EventImport',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('file_name', models.CharField(max_length=200)),
                ('added', models.PositiveIntegerField(default=0)),
                ('author', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL)),
                ('workspace', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='accounts.workspace')),
            ],
        ),
        migrations.CreateModel(
            name='Event',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('uid', models.CharField(max_length=300)),
                ('title', models.CharField(max_length=120)),
                ('kind', models.CharField(choices=[('change', 'Change'), ('incident', 'Incident'), ('state', 'State'), ('note', 'Note')], default='note', max_length=10)),
                ('text', models.CharField(blank=True, max_length=2000)),
                ('first', models.DateField()),
                ('last', models.DateField()),
                ('everywhere', models.BooleanField(default=False)),
                ('version', models.PositiveIntegerField(default=1)),
                ('author', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL)),
                ('kpis', models.ManyToManyField(related_name='events', to='kpis.kpi')),
                ('workspace', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='events', to='accounts.workspace')),
                ('brought_by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='events', to='kpis.eventimport')),
            ],
            options={
                'indexes': [models.Index(fields=['workspace', 'first'], name='kpis_event_workspa_a8ec6a_idx')],
                'constraints': [models.UniqueConstraint(fields=('workspace', 'uid'), name='event_uid_once'), models.CheckConstraint(condition=models.Q(('last__gte', models.F('first'))), name='event_ends_after_it_begins')],
            },
        ),
    ]
