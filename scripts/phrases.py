"""The catalogues: `python -m scripts.phrases` extracts, updates and compiles them; with `check` it says what lacks."""

from __future__ import annotations

import io
import re
import sys
from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog, Message
from babel.messages.extract import extract
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from brachium.speech.language import has_words
from scripts.phrase_extraction import extract_phrases, extract_template
from tests.support.every_fact import FACTS

SOURCE = Path(__file__).resolve().parents[1] / "src" / "brachium"
CATALOGUES = SOURCE / "resources" / "languages"
DOMAIN = "brachium"
CODES = ("de", "fr")
SILENT = (  # what is never shown in a window or report: commands, sample data, what reads and writes files
    "cli", "demo", "app/demo", "core/label", "devices/simulated", "devices/native", "devices/workloads", "speech",
    "core/base/kernels.py", "core/base/late_numpy.py", "core/day/compiled",
    "formats/upgrades", "store/migrations", "core/figures/base/theme.py", "core/figures/base/text_width.py",
    "ui/theme", "report/svg.py", "ui/desktop", "formats/ids.py", "formats/log_columns.py", "formats/limits.py",
    "store/tables.py", "core/base/text.py", "core/base/spoken.py", "core/base/marks.py",
)  # fmt: skip
LABELS = (
    "fits", "slight", "clear", "bad", "wide", "long", "watched", "unplugged", "centre +", "centre -", "Ctrl+Return",
    "Main", "Optical", "power off", "year-month-day", "Memory slot", "Drive bay", "Main drive bay", "Card slot", "Bay",
    "Card", "Optical bay", "Case fan", "Fan", "{number} {month} {year}", "{weekday}, {day}",
)  # fmt: skip
ABOUT = {"project": "Brachium", "version": "1", "msgid_bugs_address": "", "copyright_holder": "", "fuzzy": False}


def sources() -> Iterator[Path]:
    for path in sorted([*SOURCE.rglob("*.py"), *SOURCE.rglob("*.j2")]):
        at = path.relative_to(SOURCE).as_posix()
        if not any(at == s or at.startswith(f"{s}/") for s in SILENT):
            yield path


def extracted() -> Catalog:
    """Every phrase of the source, with the file that says it."""
    out = Catalog(**ABOUT)
    for path in sources():
        method = extract_phrases if path.suffix == ".py" else extract_template
        with path.open("rb") as file:
            for _, message, _, _ in extract(method, file, {"gettext": None, "ngettext": (1, 2)}):
                out.add(message, None, [(path.relative_to(SOURCE).as_posix(), None)])
    for said, at in named_by_records():
        if has_words(said):
            out.add(said, None, [(at, None)])
    return out


def named_by_records() -> Iterator[tuple[str, str]]:
    """(what a record names in words of the program, where): facts by their fields, places by their labels."""
    for fact in FACTS:
        for said in (fact.title, fact.group, *(str(c) for c in fact.choices or ())):
            yield re.sub(r" \d+$", "", said.removesuffix(": part")), "core/machine/facts"
    for label in LABELS:
        yield label, "core/machine/places.py"


def file_of(code: str) -> Path:
    return CATALOGUES / code / "LC_MESSAGES" / f"{DOMAIN}.po"


def read(code: str) -> Catalog:
    with file_of(code).open("rb") as file:
        return read_po(file, locale=code)


def updated(code: str, template: Catalog) -> Catalog:
    """The catalogue with the phrases of the source: what is no longer said goes, what is new is empty."""
    out = read(code) if file_of(code).exists() else Catalog(locale=code, **ABOUT)
    out.update(template, no_fuzzy_matching=True, update_creation_date=False)
    out.obsolete.clear()
    return out


def lacking(catalogue: Catalog) -> list[Message]:
    """The phrases without words in the language."""
    return [m for m in catalogue if m.id and not (all(m.string) if isinstance(m.string, tuple) else m.string)]


def written(catalogue: Catalog, compiled: bool = False) -> bytes:
    """The bytes of a catalogue as its file holds them."""
    out = io.BytesIO()
    if compiled:
        write_mo(out, catalogue)
    else:
        write_po(out, catalogue, width=120, omit_header=False, sort_output=True, include_lineno=False)
    return out.getvalue()


def main() -> int:
    template = extracted()
    if "check" in sys.argv:
        left = {code: lacking(updated(code, template)) for code in CODES}
        for code, messages in left.items():
            print(f"{code}: {len(messages)} phrases lack of {len(template)}")
            for message in messages[:20]:
                print("  ", message.id, *(at for at, _ in message.locations))
        return 1 if any(left.values()) else 0
    for code in CODES:
        catalogue = updated(code, template)
        path = file_of(code)
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(written(catalogue))
        path.with_suffix(".mo").write_bytes(written(catalogue, compiled=True))
        print(f"{code}: {len(catalogue)} phrases, {len(lacking(catalogue))} without words")
    return 0


if __name__ == "__main__":
    sys.exit(main())
