"""A database of its own to fuzz on, and a session of the demo's person there."""

import os
import sys

import psycopg


def database() -> str:
    """Make the database anew; returns its address."""
    server = os.environ["DATABASE_URL"]
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute("DROP DATABASE IF EXISTS fuzz WITH (FORCE)")
        connection.execute("CREATE DATABASE fuzz")
    return f"{server.rpartition('/')[0]}/fuzz"


def session() -> str:
    """Sign the demo's person in; returns the key of the session."""
    import django  # noqa: PLC0415 - only here are settings needed

    django.setup()
    from django.contrib.auth import (  # noqa: PLC0415 - after set-up
        BACKEND_SESSION_KEY,
        HASH_SESSION_KEY,
        SESSION_KEY,
    )
    from django.contrib.auth.models import User  # noqa: PLC0415
    from django.contrib.sessions.backends.db import SessionStore  # noqa: PLC0415

    person = User.objects.get(username="demo")
    store = SessionStore()
    store[SESSION_KEY] = str(person.pk)
    store[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
    store[HASH_SESSION_KEY] = person.get_session_auth_hash()
    store.save()
    return str(store.session_key)


if __name__ == "__main__":
    sys.stdout.write(database() if sys.argv[1] == "database" else session())
