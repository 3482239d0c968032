"""Where core asks how a text will be shown: a figure is laid out by the words that stand in it in the end.

What says them is set from outside (the window's language, a report's); by itself a text says itself.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

Speaker = Callable[[str], str]


def _itself(text: str) -> str:
    return text


_everywhere: list[Speaker] = [_itself]
_here: ContextVar[Speaker | None] = ContextVar("speaker", default=None)


def say(text: str) -> str:
    """A text in the words in which it is shown."""
    return (_here.get() or _everywhere[0])(text)


def speak_by(speaker: Speaker) -> None:
    """Let everything that is shown from now on be said by this one, on all threads."""
    _everywhere[0] = speaker


@contextmanager
def spoken_by(speaker: Speaker) -> Iterator[None]:
    """The same within a block of this thread: a report in a language of its own."""
    token = _here.set(speaker)
    try:
        yield
    finally:
        _here.reset(token)
