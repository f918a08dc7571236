"""``python -m demo.outside``: the simulated services around Fluctus, in one process.

By what the environment says: BOOKING_OFFICE, a source of tables, with its database in
OFFICE_FOLDER; and, where DIRECTORY is set, OIDC_ISSUER, a provider of identities.
"""

import os
import threading
from pathlib import Path
from urllib.parse import urlsplit

from demo.booking_office.office import Office, keep_database, server_of
from demo.staff_directory import directory


def port_of(name: str) -> int:
    """Return the port of an address that the environment names."""
    port = urlsplit(os.environ[name]).port
    if port is None:
        raise SystemExit(f"{name} has no port.")
    return port


def main() -> None:
    """Serve until the process is ended."""
    folder = Path(os.environ["OFFICE_FOLDER"])
    folder.mkdir(parents=True, exist_ok=True)
    office = Office()
    kept = (office, folder / "office.sqlite", threading.Event())
    threading.Thread(target=keep_database, args=kept, daemon=True).start()
    if os.environ.get("DIRECTORY"):
        staff = directory.Directory(os.environ["OIDC_CLIENT_SECRET"])
        server = directory.server_of(staff, port_of("OIDC_ISSUER"))
        threading.Thread(target=server.serve_forever, daemon=True).start()
    server_of(office, port_of("BOOKING_OFFICE")).serve_forever()


if __name__ == "__main__":
    main()
