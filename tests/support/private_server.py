"""A PostgreSQL of the tests' own: a cluster in a temporary folder, on a socket there, gone with the tests."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
from pathlib import Path

import psycopg

from brachium.store.location import ServerPlace

SCRIPT = Path(__file__).parents[2] / "scripts" / "server.sh"


class NoServer(Exception):  # noqa: N818
    """It cannot be had here, and why."""


class PrivateServer:
    """Started when it is made; `shop` makes an empty database and gives its place."""

    def __init__(self) -> None:
        """Raises NoServer."""
        self.folder = Path(tempfile.mkdtemp(prefix="brachium-server-"))
        self._made = 0
        try:
            self.start()
        except NoServer:
            shutil.rmtree(self.folder, ignore_errors=True)
            raise

    def _run(self, what: str) -> str:
        done = subprocess.run(
            ["bash", str(SCRIPT), what, str(self.folder)], capture_output=True, text=True, check=False
        )
        if done.returncode:
            raise NoServer(done.stderr.strip() or f"server.sh {what} ended with {done.returncode}")
        return done.stdout.strip()

    def start(self) -> None:
        """Start it, or start it again."""
        self.url = self._run("start")

    def stop(self) -> None:
        self._run("stop")

    def kill(self) -> None:
        """As a power cut would."""
        self._run("kill")

    def shop(self) -> ServerPlace:
        """An empty database of its own."""
        self._made += 1
        name = f"shop_{os.getpid()}_{self._made}"
        with psycopg.connect(self.url, autocommit=True) as connection:
            connection.execute(f'create database "{name}"')
        return self.place(name)

    def place(self, name: str, user: str = "") -> ServerPlace:
        url = self.url.replace("/shop?", f"/{name}?")
        return ServerPlace(url.replace("//root@", f"//{user}@") if user else url)

    def close(self) -> None:
        self._run("kill")
        shutil.rmtree(self.folder, ignore_errors=True)
