"""What makes a start shorter: nothing is collected until the first figures stand, and the methods of records are kept.

A frozen dataclass writes six methods of its own as text, which Python compiles anew at every start: a quarter of the
time to the first figures. As with the compiled files of modules, what was compiled is kept for the same Python, under
the digest of its text; it lies among the user's own files, and one that others could have written is not read.
"""

from __future__ import annotations

import builtins
import contextlib
import dataclasses
import gc
import hashlib
import marshal
import sys
import threading
from pathlib import Path
from types import CodeType
from typing import Any

from brachium.store.own_files import only_mine

MOST = 20_000  # methods; a file that grew beyond them is begun anew
BROKEN = (OSError, EOFError, ValueError, TypeError)


def kept_file() -> Path:
    from platformdirs import user_cache_path

    return user_cache_path("brachium") / f"methods-{sys.implementation.cache_tag}.bin"


class KeptMethods:
    """Stands in for the `exec` of `dataclasses`: the same text gives the code that it was compiled to before."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._kept = _read(path)
        self._new = False

    def __call__(self, text: str, names: dict[str, Any], out: dict[str, Any]) -> None:
        key = hashlib.blake2b(text.encode(), digest_size=16).digest()
        packed = self._kept.get(key)
        code: CodeType = marshal.loads(packed) if packed is not None else compile(text, "<string>", "exec")
        if packed is None:
            self._kept[key] = marshal.dumps(code)
            self._new = True
        builtins.exec(code, names, out)

    def write(self) -> None:
        """Keep what was compiled; where that fails the next start compiles it again."""
        from brachium.core.base.problems import Problem
        from brachium.formats.atomic import write_atomically

        if not self._new or len(self._kept) > MOST:
            return
        whole = marshal.dumps(self._kept)
        with contextlib.suppress(Problem, *BROKEN):
            self._path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            write_atomically(self._path, _head(whole) + whole)
        self._new = False


def begin() -> KeptMethods:
    """Before anything else of the window is loaded."""
    gc.disable()
    methods = KeptMethods(kept_file())
    setattr(dataclasses, "exec", methods)  # noqa: B010 - the module has no such name; its calls find this one first
    return methods


def settle(methods: KeptMethods) -> None:
    """Once the first figures stand: collect again, but never look at what stays for good."""
    if not gc.isenabled():
        gc.freeze()
        gc.enable()
    vars(dataclasses).pop("exec", None)
    threading.Thread(target=methods.write, name="brachium-methods", daemon=True).start()


def _head(whole: bytes) -> bytes:
    """Python and a checksum: code of another one, or a damaged file, is never taken up."""
    return hashlib.sha256(sys.version.encode() + whole).digest()


def _read(path: Path) -> dict[bytes, bytes]:
    try:
        if not only_mine(path.parent) or not only_mine(path):
            return {}
        text = path.read_bytes()
        whole = text[32:]
        if text[:32] != _head(whole):
            return {}
        kept = marshal.loads(whole)
        return kept if isinstance(kept, dict) and len(kept) <= MOST else {}
    except BROKEN:
        return {}
