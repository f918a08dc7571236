"""A digest says why no mail reaches a person any more; what is gone waits for nobody."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("messages_sent", "0001_messages")]
    operations = [
        migrations.AddField(
            "digest", "refused", models.CharField(blank=True, default="", max_length=200)
        ),
        migrations.AlterField("digest", "refused", models.CharField(blank=True, max_length=200)),
        migrations.RemoveIndex("happening", "not_handed_on"),
        migrations.AddIndex(
            "happening",
            models.Index(
                condition=models.Q(handed_on=False, gone=False),
                fields=["id"],
                name="still_to_be_handed_on",
            ),
        ),
    ]
