"""Who is named in what others write: by an @ before their username or their whole name."""

import re
from collections.abc import Callable

from django.contrib.auth.models import User

from fluctus.accounts.queries import name_of


def names_of(person: User) -> list[str]:
    """List how a person is named behind an @."""
    return list(dict.fromkeys([person.username, name_of(person)]))


def named_in(person: User) -> Callable[[str], bool]:
    """Return what tells whether a text names a person, and nobody with a longer name."""
    names = "|".join(re.escape(name) for name in names_of(person))
    pattern = re.compile(rf"(?<!\w)@(?:{names})(?![\w-])", re.IGNORECASE)
    return lambda text: pattern.search(text) is not None
