"""Where what a test starts finds its database, and a port of its own."""

import socket

from django.db import connection


def address_of_database() -> str:
    """Return the address of the database of the test."""
    own = connection.settings_dict
    return f"postgres://{own['USER']}:{own['PASSWORD']}@{own['HOST']}:{own['PORT']}/{own['NAME']}"


def free_port() -> int:
    """Return a port of loopback that nobody listens on."""
    with socket.socket() as tried:
        tried.bind(("127.0.0.1", 0))
        return int(tried.getsockname()[1])
