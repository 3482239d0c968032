"""Words that the program itself wrote into records and has since given up for plainer ones.

Only whole texts are changed: what a person typed stays as typed unless it is letter for letter what the program wrote.
"""

from __future__ import annotations

import re
from typing import Any

ANSWERS = {
    "wrong words": "memory errors",
    "disk with an arm": "hard disk",
    "a disk with an arm": "a hard disk",
    "install afresh": "install anew",
    "there with another lead or place": "there with another cable or port",
    "not looked at": "not checked",
    "new date cell": "new CMOS battery",
    "M.2 place": "M.2 slot",
    "Mini-card place": "Mini-card slot",
}
_NUMBERED = re.compile(r"(Memory|Card|M\.2|Mini-card) place (\d+)")


def in_plain_words(plain: Any) -> Any:
    """The same values with every text of the old words in the new ones; keys stay."""
    if isinstance(plain, dict):
        return {key: in_plain_words(value) for key, value in plain.items()}
    if isinstance(plain, list):
        return [in_plain_words(value) for value in plain]
    if not isinstance(plain, str):
        return plain
    numbered = _NUMBERED.fullmatch(plain)
    return f"{numbered[1]} slot {numbered[2]}" if numbered else ANSWERS.get(plain, plain)
