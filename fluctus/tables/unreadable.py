"""What all refusals to read something have in common."""


class UnreadableError(ValueError):
    """What was to be read is not what it should be; the message is for people."""
