"""Ids from outside: checked at every border, and never taken for names of files."""

from __future__ import annotations

import hashlib
import re

JOURNAL_SUFFIX = ".running.jsonl"  # a run in progress, beside the shop file
ROLES = ("before", "after", "later", "stability", "day before", "day after")
LONGEST_ID, LONGEST_RUN_ID = 64, 100  # a run's is made of its job's
_ID = re.compile(r"[A-Za-z0-9][A-Za-z0-9._@-]*")


def id_problem(text: str, longest: int = LONGEST_ID) -> str:
    """What is wrong with an id; empty where it is one."""
    if not 0 < len(text) <= longest:
        return f"has {len(text)} characters, 1 to {longest} are meant"
    return (
        "" if _ID.fullmatch(text) and ".." not in text else f"({text[:40]!r}) holds more than letters, digits, . _ @ -"
    )


def file_stem(text: str) -> str:
    """A name of a file made for an id or a title: plain letters and digits, told apart by its content where it was
    not plain."""
    plain = re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")[:48] or "job"
    if plain == text:
        return plain
    return f"{plain}-{hashlib.sha256(text.encode('utf-8', 'replace')).hexdigest()[:8]}"
