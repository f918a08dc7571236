"""Files in the database, in pieces."""

from django.db import models


class FilePiece(models.Model):
    """A piece of a file: read and written one by one, so that none of them takes much memory."""

    name = models.CharField(max_length=200)
    number = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["name", "number"], name="one_piece_each")]

    def __str__(self) -> str:
        return f"{self.name}, piece {self.number}"
