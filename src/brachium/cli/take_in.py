"""`brachium take-in`: a machine into a shop by one line."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

import typer

from brachium.cli.common import Shop, app, open_workspace, print_problem, say_json

if TYPE_CHECKING:
    from brachium.app.intake.quick_take_in import TakenIn
    from brachium.core.machine.kinds import MachineKind


@app.command("take-in")
def take_in(
    line: Annotated[str, typer.Option(help="What you would say, such as '2x4 ddr3 1600 sodimm; 500gb 2.5 hdd'.")],
    kind: Annotated[str, typer.Option(help="laptop, tower, small desktop, mini PC, all-in-one, handheld ...")] = "",
    name: Annotated[str, typer.Option(help="Name of the job; made from the line where none is given.")] = "",
    shop: Shop = "",
    as_json: Annotated[bool, typer.Option("--json", help="For programs: docs/formats/answers.md.")] = False,
) -> None:
    """Take a machine in by one line; says how each word was understood and what is still open."""
    with print_problem():
        from brachium.app.intake.quick_take_in import take_in_line
        from brachium.formats.answers.take_in_json import take_in_values

        known = _kind(kind)
        workspace = open_workspace(shop, make=True)
        try:
            taken = take_in_line(workspace, line, known, name)
            workspace.lanes.drain("store")
            workspace.writes.raise_unsaved()
        finally:
            workspace.close()
        if as_json:
            say_json(take_in_values(taken.job.id, taken.job.name, taken.line.pieces, taken.recorded))
        else:
            _print(taken)


def _kind(words: str) -> MachineKind | None:
    """The kind of a word. Raises ExpectedProblem naming those that there are."""
    from brachium.core.base.problems import ExpectedProblem
    from brachium.core.label.machine_words import read_machine_words
    from brachium.core.machine.kinds import MachineKind

    if not words:
        return None
    found = next((k for k in MachineKind if k.value == words), None) or read_machine_words(words).kind
    if found is None:
        known = ", ".join(k.value for k in MachineKind if k is not MachineKind.NOT_KNOWN)
        raise ExpectedProblem(f"{words!r} is no kind of machine", "--kind", f"Known are {known}.")
    return found


def _print(taken: TakenIn) -> None:
    from brachium.core.machine.facts.open_facts import open_facts

    typer.echo(f"{taken.job.name}: job {taken.job.id}")
    for piece in taken.line.pieces:
        typer.echo(f"  {piece.text}")
        for words, fields in piece.understood:
            if fields:
                typer.echo(f"      {words:24} {', '.join(fields)}")
        for word in piece.not_understood:
            typer.echo(f"      {word:24} not understood")
    for words in taken.recorded.unrecorded:
        typer.echo(f"  not recorded: {words}.")
    typer.echo(f"  still open: {', '.join(open_facts(taken.job.machine)) or 'nothing'}")
