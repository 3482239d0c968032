"""Writes the manual page packaging/linux/brachium.1 from the command line itself, so that it cannot lag behind."""

from __future__ import annotations

from pathlib import Path

import typer
from typer.core import TyperGroup

from brachium.cli.commands import app

OUT = Path(__file__).parents[1] / "packaging/linux/brachium.1"
HEAD = """.TH BRACHIUM 1 "" "Brachium" "User commands"
.SH NAME
brachium \\- plan PC upgrades, measure before and after, prove what they brought
.SH SYNOPSIS
.B brachium
[\\fICOMMAND\\fR] [\\fIOPTIONS\\fR]
.SH DESCRIPTION
Without a command the window opens on your shop. Every main job also runs without a window, by the commands below.
.SH COMMANDS
"""
FOOT = """.SH FILES
.I ~/.local/share/brachium/shop.db
.RS
The shop: every record, run and price in one file; backups lie beside it.
.RE
.SH SEE ALSO
.BR brachium-probe ,
one file that measures a machine from a stick; written by the first page of an empty shop, or by \\fBmake probe\\fR.
"""


def manual() -> str:
    """The page as roff."""
    group = typer.main.get_command(app)
    assert isinstance(group, TyperGroup)
    context = group.make_context("brachium", [], resilient_parsing=True)
    parts = [HEAD]
    for name in sorted(group.commands):
        command = group.commands[name]
        parts.append(f".TP\n.B brachium {name}\n{_plain(command.help or '')}\n")
        rows = [p.get_help_record(context) for p in command.params if not getattr(p, "hidden", False)]
        for row in rows:
            if row is not None and not row[0].startswith("--help"):
                parts.append(f".RS\n.TP\n.B {_plain(row[0])}\n{_plain(row[1])}\n.RE\n")
    return "".join([*parts, FOOT])


def _plain(text: str) -> str:
    """Text on one line, with what roff would read as its own escaped."""
    line = " ".join(text.split()).replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{line}" if line[:1] in (".", "'") else line


def main() -> None:
    OUT.write_text(manual(), encoding="utf-8")
    print(f"{OUT.name}: {manual().count('.B brachium ')} commands")


if __name__ == "__main__":
    main()
