"""The intake app."""

from django.apps import AppConfig


class IntakeConfig(AppConfig):
    """Reading tables into KPIs."""

    name = "fluctus.intake"
    label = "intake"

    def ready(self) -> None:
        """Say how tables are brought in."""
        from fluctus.accounts.room.kinds import Kind, counters  # noqa: PLC0415 - models come first
        from fluctus.intake.hooks import carriers  # noqa: PLC0415 - models come first
        from fluctus.intake.models import ImportKind  # noqa: PLC0415
        from fluctus.intake.services import bring_table_in  # noqa: PLC0415
        from fluctus.intake.uploads import file_bytes  # noqa: PLC0415

        counters[Kind.FILE_BYTES] = file_bytes
        carriers[ImportKind.TABLE] = bring_table_in
