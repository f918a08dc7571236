"""Why a backup cannot be made or restored, and what to do."""


class BackupError(Exception):
    """Something is in the way of a backup; nothing has been changed."""

    def __init__(self, what: str, remedy: str) -> None:
        super().__init__(f"{what} {remedy}")
        self.what, self.remedy = what, remedy
