"""NumPy, loaded when something of it is used first: a fifth of a start, and a window without figures needs none of it.

Modules that a window loads before its first figures take `np` from here; every other one imports NumPy itself.
"""

from __future__ import annotations

from importlib import import_module
from types import ModuleType
from typing import TYPE_CHECKING, Any


class _Late(ModuleType):
    def __getattr__(self, name: str) -> Any:
        found = getattr(import_module("numpy"), name)
        setattr(self, name, found)  # asked once: from now on as quick as the module itself
        return found


if TYPE_CHECKING:
    import numpy as np
else:
    np = _Late("numpy")


def load_numpy() -> None:
    """Before anything asks for it; in a thread of its own the window goes on meanwhile."""
    import_module("numpy")


__all__ = ["load_numpy", "np"]
