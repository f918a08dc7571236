"""Tries by purpose, tokens that end, and a record that outlives workspaces and forgets names."""

import django.db.models.deletion
from django.db import migrations, models


KEEP_RECORD = """
    CREATE OR REPLACE FUNCTION keep_record() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
        IF current_setting('fluctus.clears_record', true) = 'yes' THEN
            RETURN CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
        END IF;
        RAISE EXCEPTION 'the record of who did what is only ever added to';
    END $$;
"""
BEFORE = """
    CREATE OR REPLACE FUNCTION keep_record() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN RAISE EXCEPTION 'the record of who did what is only ever added to'; END $$;
"""
ACCOUNTS = """
    SET LOCAL fluctus.clears_record = 'yes';
    UPDATE accounts_recordentry entry SET account = person.id FROM auth_user person
    WHERE entry.person = person.username OR entry.person LIKE '% (' || person.username || ')';
    SET LOCAL fluctus.clears_record = 'no';
"""


class Migration(migrations.Migration):

    dependencies = [
        ('accounts', '0003_roles'),
    ]

    operations = [
        migrations.CreateModel(
            name='GuessedTry',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('purpose', models.CharField(max_length=10)),
                ('key', models.CharField(max_length=150)),
                ('address', models.CharField(max_length=64)),
                ('at', models.DateTimeField()),
            ],
        ),
        migrations.DeleteModel(
            name='SignInTry',
        ),
        migrations.AddField(
            model_name='apitoken',
            name='expires',
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name='recordentry',
            name='account',
            field=models.IntegerField(null=True),
        ),
        migrations.AlterField(
            model_name='recordentry',
            name='workspace',
            field=models.ForeignKey(db_constraint=False, on_delete=django.db.models.deletion.DO_NOTHING, related_name='+', to='accounts.workspace'),
        ),
        migrations.AddIndex(
            model_name='guessedtry',
            index=models.Index(fields=['purpose', 'key'], name='accounts_gu_purpose_5caf30_idx'),
        ),
        migrations.AddIndex(
            model_name='guessedtry',
            index=models.Index(fields=['purpose', 'address'], name='accounts_gu_purpose_45a3cf_idx'),
        ),
        migrations.RunSQL(KEEP_RECORD, BEFORE),
        migrations.RunSQL(ACCOUNTS, migrations.RunSQL.noop),
    ]
