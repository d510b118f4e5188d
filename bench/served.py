"""The program's own processes, for measurements over HTTP: web servers as ./start serves them, and workers."""

import os
import socket
import subprocess
import sys
import time

__all__ = ["ROOT", "WORKER", "begun", "free_port", "serve", "web_command"]

ROOT = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
WORKER = [sys.executable, "manage.py", "procrastinate", "worker", "--concurrency", "1"]


def free_port() -> int:
    """Return a port nobody listens on."""
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return int(one.getsockname()[1])


def web_command(port: int) -> list[str]:
    """Return the command that serves with two processes."""
    served = ["-c", "server/config/gunicorn.py", "server.config.wsgi:application", "--bind", f"127.0.0.1:{port}"]
    return [sys.executable, "-m", "gunicorn", *served, "--workers", "2", "--log-level", "error"]


def begun(command: list[str], **environment: str) -> "subprocess.Popen[bytes]":
    """Begin one of them with these variables beside those there are."""
    patience = {"CALM_LOCK_SECONDS": "8", "CALM_STATEMENT_SECONDS": "25", "CALM_LOG": "WARNING"}
    return subprocess.Popen(command, cwd=ROOT, env={**os.environ, **patience, **environment})


def serve(port: int, database: str) -> "subprocess.Popen[bytes]":
    """Serve a database, and come back when somebody listens."""
    server = begun(web_command(port), CALM_DB_NAME=database)
    for _ in range(200):
        with socket.socket() as one:
            if one.connect_ex(("127.0.0.1", port)) == 0:
                return server
        time.sleep(0.1)
    raise SystemExit("the server did not start")
