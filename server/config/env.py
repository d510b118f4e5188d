"""The one place that reads the environment; everything else takes typed values from here."""

import os
from dataclasses import dataclass
from pathlib import Path

__all__ = ["ENV", "ROOT", "Environment"]

ROOT = Path(__file__).resolve().parent.parent.parent


@dataclass(frozen=True, slots=True, kw_only=True)
class Environment:
    """What differs between machines and between start, develop and test."""

    secret_key: str
    debug: bool
    db_host: str
    db_port: int
    db_name: str
    db_user: str
    db_password: str
    static_root: Path
    hosts: tuple[str, ...]
    log_level: str  #: INFO: a line a request and a job; WARNING: none
    secure: bool  #: served over https: cookies are marked secure
    proxies: int  #: how many proxies of ours stand before it: so far X-Forwarded-For is believed
    lock_seconds: int  #: nobody waits longer for what somebody else is at
    open_house: bool  #: anybody who reaches it may set up another workshop
    statement_seconds: int  #: no statement takes longer; 0: as long as it takes
    planning_processes: int  #: that plan the orders of a what-if side by side


def _read() -> Environment:
    get = os.environ.get
    return Environment(
        secret_key=get("CALM_SECRET_KEY", ""),
        debug=get("CALM_DEBUG") == "1",
        db_host=get("CALM_DB_HOST", "127.0.0.1"),
        db_port=int(get("CALM_DB_PORT", "5432")),
        db_name=get("CALM_DB_NAME", "calm"),
        db_user=get("CALM_DB_USER", "app"),
        db_password=get("CALM_DB_PASSWORD", ""),
        static_root=Path(get("CALM_STATIC_ROOT", str(ROOT / ".data" / "static"))),
        hosts=tuple(get("CALM_HOSTS", "localhost,127.0.0.1,[::1]").split(",")),
        log_level=get("CALM_LOG", "WARNING"),
        secure=get("CALM_HTTPS") == "1",
        proxies=int(get("CALM_PROXIES", "0")),
        open_house=get("CALM_OPEN_HOUSE") == "1",
        lock_seconds=int(get("CALM_LOCK_SECONDS", "60")),
        statement_seconds=int(get("CALM_STATEMENT_SECONDS", "0")),
        planning_processes=int(get("CALM_PLANNING_PROCESSES", "2")),
    )


ENV = _read()
