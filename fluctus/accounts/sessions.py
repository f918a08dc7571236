"""Sessions as Django keeps them in the database, found by a statement that is made once."""

from django.contrib.sessions.backends.db import SessionStore as DatabaseSessions
from django.contrib.sessions.models import Session
from django.utils import timezone

from fluctus.http.compiled import Compiled

_by_key = Compiled(lambda key: Session.objects.filter(session_key=key), key=str)


class SessionStore(DatabaseSessions):
    """The sessions of browsers."""

    def _get_session_from_db(self) -> Session | None:
        row = _by_key.first(key=self.session_key)
        if row is None or row.expire_date <= timezone.now():
            self._session_key = None
            return None
        return row
