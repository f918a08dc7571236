"""An act is kept or undone: that is its state."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("kpis", "0012_time_and_order")]
    operations = [
        migrations.RemoveIndex("chartchange", "kpis_chartc_kpi_id_b6a794_idx"),
        migrations.RenameField("chartchange", "standing", "state"),
        migrations.AddIndex(
            "chartchange",
            models.Index(fields=["kpi", "state", "id"], name="kpis_chartc_kpi_id_293467_idx"),
        ),
    ]
