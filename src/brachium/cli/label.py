"""`brachium label`: what the label of a part says."""

from __future__ import annotations

from typing import Annotated

import typer

from brachium.cli.common import app, print_problem


@app.command()
def label(
    text: Annotated[str, typer.Argument(help="The label as it is printed, or as you remember it.")],
    as_json: Annotated[bool, typer.Option("--json", help="For programs: every field as JSON.")] = False,
) -> None:
    """Read a label: memory module, drive, adapter, battery or power supply."""
    with print_problem():
        import json

        from brachium.core.base.problems import ExpectedProblem
        from brachium.core.label.any_label import read_label
        from brachium.formats.answers.label_json import label_values

        found = read_label(text)
        if found is None:
            raise ExpectedProblem(f"no word of “{text[:80]}” is one of a label", "the label",
                                  "Type it as it is printed, such as 4GB 1Rx8 PC3L-12800S.")  # fmt: skip
        values = label_values(*found)
        if as_json:
            typer.echo(json.dumps(values, ensure_ascii=False))
            return
        for key, value in values.items():
            if key not in ("version", "left_open", "not_understood") and value is not None:
                typer.echo(f"  {key:14} {value}")
        for key, words in (("left open", found[1].left_open), ("not understood", found[1].not_understood)):
            if words:
                typer.echo(f"  {key}: {', '.join(words)}")
