"""What a test starts ends with it, also where the test itself is killed (PR_SET_PDEATHSIG, prctl(2))."""

from __future__ import annotations

import ctypes
import os
import signal

_PDEATHSIG = 1


def ends_with_us() -> None:
    """Called in the new process; without a kernel that knows it nothing happens."""
    ctypes.CDLL(None).prctl(_PDEATHSIG, signal.SIGKILL)


def forked() -> int:
    """As os.fork, with a child that ends with its parent; one whose parent is gone already ends at once."""
    parent = os.getpid()
    pid = os.fork()
    if pid == 0:
        ends_with_us()
        if os.getppid() != parent:
            os._exit(3)
    return pid
