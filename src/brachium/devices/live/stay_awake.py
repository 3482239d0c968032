"""Keeps the machine from going to sleep while something is measured: by the login manager, given up when we end.

The login manager (org.freedesktop.login1) lets a program hold sleep and idle actions off for as long as it keeps a
file open; `systemd-inhibit` does so as long as the program runs that it starts. That one reads from a pipe of ours, so
that it ends with us however we end.
"""

from __future__ import annotations

import contextlib
import shutil
import subprocess
from collections.abc import Iterator

HELD = "sleep:idle:handle-lid-switch"


@contextlib.contextmanager
def stay_awake(why: str) -> Iterator[bool]:
    """While inside, sleep is held off; yields whether that could be asked for. Never fails: a run goes on without."""
    holder = _begin(why)
    try:
        yield holder is not None
    finally:
        if holder is not None:
            _end(holder)


def _begin(why: str) -> subprocess.Popen[bytes] | None:
    tool, waits = shutil.which("systemd-inhibit"), shutil.which("cat")
    if tool is None or waits is None:
        return None
    command = [tool, f"--what={HELD}", "--who=Brachium", f"--why={why}", "--mode=block", waits]
    try:
        holder = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    except OSError:
        return None
    with contextlib.suppress(subprocess.TimeoutExpired):
        holder.wait(0.3)  # refused at once where there is no login manager
    if holder.poll() is not None:
        _end(holder)
        return None
    return holder


def _end(holder: subprocess.Popen[bytes]) -> None:
    if holder.stdin is not None:
        with contextlib.suppress(OSError):
            holder.stdin.close()
    try:
        holder.wait(2.0)
    except subprocess.TimeoutExpired:
        holder.kill()
        holder.wait()
