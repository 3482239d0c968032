"""The compiled kernels as functions: loaded by cffi from what set-up built, absent where nothing was.

All of them run without the interpreter's lock and look at the clock themselves, so that the interpreter has no share in
what they measure.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

from brachium.core.base.kernels import loaded
from brachium.devices.native.build import MEASURING

VERSION = 1  # of the kernels' results: rises when they stop being comparable


@dataclass(frozen=True)
class Done:
    """What a kernel did: seconds of the work itself, units, checksum, pieces that were wrong, errno."""

    seconds: float
    units: int
    checksum: int
    wrong: int
    error: int

    @property
    def rate(self) -> float:
        """Units a second."""
        return self.units / self.seconds if self.seconds > 0 else 0.0


def available() -> bool:
    """Whether the kernels of these sources were built."""
    return MEASURING.available()


@cache
def _loaded() -> tuple[Any, Any]:
    """(cffi, library). Raises OSError where it is not built or cannot be loaded."""
    ffi, library = loaded(MEASURING)
    if library.brachium_version() != VERSION:
        raise OSError("the compiled kernels are of another version; run set-up again")
    return ffi, library


class Words:
    """A block of memory of whole pages for the memory kernels [byte]."""

    def __init__(self, size: int) -> None:
        """Raises MemoryError where there is no room."""
        import mmap

        ffi, library = _loaded()
        try:
            private = mmap.MAP_PRIVATE | mmap.MAP_ANONYMOUS  # shared memory would get small pages only
            self._map = mmap.mmap(-1, max(size, mmap.PAGESIZE), flags=private)
        except OSError as error:
            raise MemoryError(str(error)) from error
        self.size = size
        self.pointer = ffi.cast("uint64_t *", ffi.from_buffer(self._map, require_writable=True))
        library.brachium_write(self.pointer, size, 0.0)  # pages that nobody wrote are one page of zeros


def chased(words: Words, span: int, seconds: float, step: int = 8, seed: int = 1, fresh: bool = True) -> Done:
    """Dependent loads over the first `span` bytes, one a line of `step` words; `fresh` lays the ring anew."""
    _, library = _loaded()
    if fresh:
        library.brachium_ring(words.pointer, span, step, seed)
    return _done(library.brachium_chase(words.pointer, seconds))


def streamed(kind: str, words: Words, other: Words | None, seconds: float) -> Done:
    """`read`, `write` or `copy` the whole block, over and over; units are bytes, of a copy both ways."""
    _, library = _loaded()
    if kind == "copy":
        assert other is not None
        return _done(library.brachium_copy(other.pointer, words.pointer, words.size, seconds))
    call = library.brachium_read if kind == "read" else library.brachium_write
    return _done(call(words.pointer, words.size, seconds))


def worked(kind: str, seconds: float) -> Done:
    """Rounds of `integer`, `branch`, `float` or `hash` work."""
    _, library = _loaded()
    return _done(getattr(library, f"brachium_{kind}")(seconds))


def requested(
    handle: int, size: int, depth: int, seconds: float, *, block: int = 4096, mixed: bool = False, seed: int = 1,
    ring: bool | None = None,
) -> Done:  # fmt: skip
    """Requests at random places, `depth` at a time; by io_uring where the kernel has it, else by threads."""
    _, library = _loaded()
    ring = has_ring() if ring is None else ring
    return _done(library.brachium_requests(handle, size, block, depth, int(mixed), int(ring), seed, seconds))


def in_order(
    handle: int, size: int, depth: int, seconds: float, *, block: int = 1 << 20, ring: bool | None = None
) -> Done:
    """Large requests one after the other from the start, `depth` at a time."""
    _, library = _loaded()
    ring = has_ring() if ring is None else ring
    return _done(library.brachium_stream(handle, size, block, depth, int(ring), seconds))


def flushed(handle: int, size: int, seconds: float, *, block: int = 4096) -> Done:
    """Blocks written back as they were read, each flushed to the drive before the next."""
    _, library = _loaded()
    return _done(library.brachium_flushes(handle, size, block, seconds))


def has_ring() -> bool:
    """Whether the kernel takes requests by io_uring."""
    return bool(_loaded()[1].brachium_has_ring())


def _done(result: Any) -> Done:
    return Done(result.seconds, result.units, result.checksum, result.wrong, result.error)
