"""Call the last report that was made by itself what it is."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("messages_sent", "0002_refused")]
    operations = [migrations.RenameField("scheduledreport", "made", "last_report")]
