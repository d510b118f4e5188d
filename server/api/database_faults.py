"""What the database could not do, told from faults of the program: busy, away, full, or read only.

Each leaves nothing half saved: the transaction it happened in is undone. Only one that is away may have saved the whole
before it went.
"""

from dataclasses import dataclass

from django.db import DatabaseError, InterfaceError
from procrastinate.exceptions import ConnectorException
from psycopg import Error as PsycopgError
from psycopg.errors import ConnectionTimeout, DeadlockDetected, LockNotAvailable, QueryCanceled, TooManyConnections

__all__ = ["DatabaseFault", "database_fault"]


@dataclass(frozen=True, slots=True, kw_only=True)
class DatabaseFault:
    """A code, what to say of it, and after how many seconds to try again."""

    code: str
    words: str
    again_after_s: int


_BUSY = DatabaseFault(
    code="busy",
    words="Others are at work on the same things and it takes too long. Nothing was saved; try again.",
    again_after_s=2,
)
_AWAY = DatabaseFault(
    code="database_away",
    # It may have been cut off after it had saved: nobody knows. Requests carry keys, so trying again is safe.
    words="The database does not answer just now. Try again in a moment: what was saved already is not done twice.",
    again_after_s=5,
)
_FULL = DatabaseFault(
    code="disk_full",
    words="The disk of the database is full. Nothing was saved; whoever looks after the machine has to make room.",
    again_after_s=60,
)
_READ_ONLY = DatabaseFault(
    code="read_only",
    words="The database can only be read just now. Nothing was saved; try again later.",
    again_after_s=30,
)
_WAITED = (LockNotAvailable, QueryCanceled, DeadlockDetected, TooManyConnections, ConnectionTimeout)
#: By SQLSTATE (PostgreSQL, appendix A): full, read only.
_BY_STATE = {"53100": _FULL, "25006": _READ_ONLY}
#: It was shut down, crashed, begins, or the connection broke.
_AWAY_STATES = ("57P01", "57P02", "57P03", "08000", "08001", "08003", "08004", "08006")


def database_fault(error: BaseException | None) -> DatabaseFault | None:
    """Return what the database could not do; None for any other error, a wrong query among them."""
    if isinstance(error, ConnectorException):  # met while the worker was asked for something, in the same transaction
        error = error.__cause__
    if not isinstance(error, DatabaseError | InterfaceError | PsycopgError):
        return None
    cause = error if isinstance(error, PsycopgError) else error.__cause__
    if isinstance(cause, _WAITED):
        return _BUSY
    if isinstance(error, InterfaceError):  # the connection is closed
        return _AWAY
    if not isinstance(cause, PsycopgError):
        return None
    state = cause.sqlstate
    if state is None:  # never reached the server, or was cut off; what the server refuses has a state
        return _AWAY
    return _BY_STATE.get(state) or (_AWAY if state in _AWAY_STATES else None)
