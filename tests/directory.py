"""The staff directory as people come from it, for tests of the server and of the browser."""

import threading
from collections.abc import Iterator
from typing import Any

import pytest

from demo.staff_directory.directory import Directory, server_of

SECRET = "what only both of them know"


@pytest.fixture
def directory(settings: Any) -> Iterator[Directory]:
    """A directory on a port of its own, which this installation trusts."""
    directory = Directory(SECRET)
    server = server_of(directory, 0)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    settings.OIDC_ISSUER = f"http://127.0.0.1:{server.server_port}"
    settings.OIDC_CLIENT_SECRET = SECRET
    settings.OIDC_NAME = "the Marrowick staff directory"
    yield directory
    server.shutdown()
    server.server_close()
