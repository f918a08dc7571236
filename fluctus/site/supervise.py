"""The process supervisor, whose exit status tells whether it gave a program up."""

import sys
from pathlib import Path

from supervisor import supervisord

from fluctus.site.supervision_events import MARK


def main(settings: str) -> int:
    """Run the supervisor by a file of ``settings`` until it ends; returns its exit status."""
    mark = Path(settings).with_name(MARK)
    mark.unlink(missing_ok=True)
    supervisord.main(["-c", settings])
    return 1 if mark.exists() else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
