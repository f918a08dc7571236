"""A finding has a state; whether the chart still has it is its presence."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("findings", "0003_looks")]
    operations = [migrations.RenameField("finding", "standing", "presence")]
