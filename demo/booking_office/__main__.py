"""``python -m demo.booking_office PORT FOLDER``: serves until it is stopped."""

import sys
import threading
from pathlib import Path

from demo.booking_office.office import Office, keep_database, server_of


def main(port: int, folder: Path) -> None:
    """Serve the tables on a port of loopback, and keep the database in a folder."""
    folder.mkdir(parents=True, exist_ok=True)
    office, stopped = Office(), threading.Event()
    beside = threading.Thread(
        target=keep_database, args=(office, folder / "office.sqlite", stopped), daemon=True
    )
    beside.start()
    server_of(office, port).serve_forever()


if __name__ == "__main__":
    main(int(sys.argv[1]), Path(sys.argv[2]))
