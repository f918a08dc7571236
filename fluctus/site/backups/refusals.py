"""Why a backup cannot be made or restored, and what to do."""


class BackupError(Exception):
    """Something is in the way of a backup; nothing has been changed."""

    def __init__(self, what: str, remedy: str) -> None:
        super().__init__(f"{what} {remedy}")
        self.what, self.remedy = what, remedy


class NoBackupError(BackupError):
    """What was given is no backup, or not there."""

    def __init__(self, what: str = "This is no backup of Fluctus.") -> None:
        super().__init__(what, "Choose a file that script/backup has written.")
