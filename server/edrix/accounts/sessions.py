"""Sessions that know whose they are: who asks is one statement, not two.

Every request of a signed-in person begins with it, so its text is written once.
"""

from functools import cache
from typing import Any, cast

from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore as DatabaseSessions
from django.db import connection
from django.db.models.functions import Now

from edrix.accounts.models import Session, User
from edrix.statements import first_row

PERSON = [field.attname for field in User._meta.concrete_fields]

SHORTEST_KEY = 8
"""As in Django's sessions."""


class SessionStore(DatabaseSessions):
    """Django's sessions in the database, with the person beside them once loaded."""

    person: User | None = None

    @classmethod
    def get_model_class(cls) -> type[Session]:
        return Session

    def _validate_session_key(self, key: str | None) -> bool:
        """Keys are Django's own: letters and digits. What else a cookie holds is nobody's."""
        if key is None or len(key) < SHORTEST_KEY:
            return False
        return key.isascii() and key.isalnum()

    def create_model_instance(self, data: dict[str, Any]) -> Session:
        made = cast(Session, super().create_model_instance(data))
        made.person_id = data.get(SESSION_KEY)
        return made

    def load(self) -> dict[str, Any]:
        row = first_row(_session_and_person(), [self.session_key])
        if row is None:
            self._session_key = None
            return {}
        data, *person = row
        if person[0] is not None:
            self.person = User.from_db(connection.alias, PERSON, person)
        return self.decode(data)


@cache
def _session_and_person() -> str:
    """The statement for a session key: its data, and the columns of PERSON (nulls for nobody)."""
    key = "the key's place"
    found = Session.objects.filter(session_key=key, expire_date__gt=Now())
    columns = found.values_list("session_data", *(f"person__{name}" for name in PERSON))
    sql, parameters = columns.query.sql_with_params()
    if parameters != (key,):
        raise TypeError(f"the key is not the only parameter: {parameters}")
    return sql
