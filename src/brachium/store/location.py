"""Where a shop lies: a file of SQLite, or a database of PostgreSQL by its URL.

A password is taken from where such passwords usually lie (the URL itself, PGPASSWORD, .pgpass, the secret service of
the desktop). It is never shown and never written down.
"""

from __future__ import annotations

import hashlib
import os
import re
import shutil
import subprocess
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import parse_qs, unquote, urlsplit

from brachium.core.base.problems import ExpectedProblem

SCHEMES = ("postgresql", "postgres")
SECRET_S = 5.0


@dataclass(frozen=True)
class ServerPlace:
    """A database on a server. `url` may hold a password and is never shown; `shown` never does."""

    url: str = field(repr=False)

    @property
    def shown(self) -> str:
        """The URL without its password."""
        parts = urlsplit(self.url)
        user, at, host = parts.netloc.rpartition("@")
        netloc = f"{user.partition(':')[0]}{at}{host}"
        query = "&".join(q for q in parts.query.split("&") if q and not q.lower().startswith("password="))
        return parts._replace(scheme="postgresql", netloc=netloc, query=query).geturl()

    @property
    def name(self) -> str:
        """The database's name."""
        return unquote(urlsplit(self.url).path.lstrip("/")) or "shop"

    @property
    def path(self) -> Path:
        """Where this computer keeps what belongs to the shop but not into it: window, runs in progress, edits that
        wait. No file of this name is made; its neighbours are."""
        from platformdirs import user_state_path

        stem = re.sub(r"[^A-Za-z0-9_-]+", "-", self.name)[:40]
        digest = hashlib.sha256(self.shown.encode()).hexdigest()[:10]
        return user_state_path("brachium") / f"{stem}-{digest}" / "shop.db"

    @property
    def conninfo(self) -> str:
        """What the library connects by: the URL, with the password of the secret service where nothing else has one."""
        parts = urlsplit(self.url)._replace(scheme="postgresql")
        if parts.password or "PGPASSWORD" in os.environ or "password" in parse_qs(parts.query):
            return parts.geturl()
        secret = _secret(parts.hostname or "", parts.username or "", self.name)
        if not secret:
            return parts.geturl()
        from psycopg.conninfo import make_conninfo

        return make_conninfo(parts.geturl(), password=secret)


Place = Path | ServerPlace


def place_of(text: str | Path) -> Place:
    """What was named: a URL of a server, or a file. Raises ExpectedProblem for another kind of URL."""
    named = str(text)
    scheme, mark, rest = named.partition("://")
    if not mark or "/" in scheme:
        return Path(named)
    if scheme.lower() not in SCHEMES:
        raise ExpectedProblem(
            f"a shop lies in a file or at postgresql://, not at {scheme}://", "", "Name one of these."
        )
    if not rest.partition("/")[2].partition("?")[0]:
        raise ExpectedProblem("the URL names no database", ServerPlace(named).shown,
                              "Write it like postgresql://user@server/shop.")  # fmt: skip
    return ServerPlace(f"postgresql://{rest}")


def _secret(host: str, user: str, database: str) -> str:
    """A password kept in the desktop's secret service under these words; empty where there is none."""
    tool = shutil.which("secret-tool")
    if tool is None or not os.environ.get("DBUS_SESSION_BUS_ADDRESS"):
        return ""
    words = ["service", "brachium", "host", host, "user", user, "database", database]
    try:
        done = subprocess.run([tool, "lookup", *words], capture_output=True, text=True, timeout=SECRET_S, check=False)
    except (OSError, subprocess.TimeoutExpired):
        return ""
    return done.stdout.rstrip("\n") if done.returncode == 0 else ""
