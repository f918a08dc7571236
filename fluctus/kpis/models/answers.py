"""What a chart answered with last."""

from django.db import models

from fluctus.kpis.models.kpi import Kpi


class KeptAnswer(models.Model):
    """The whole chart of a KPI as it was answered last, and the ``tag`` that tells of what.

    A process that has not opened the chart answers with it and analyses nothing.
    """

    kpi = models.OneToOneField(Kpi, on_delete=models.CASCADE, primary_key=True, related_name="+")
    tag = models.CharField(max_length=60)
    content = models.BinaryField()

    def __str__(self) -> str:
        return self.tag
