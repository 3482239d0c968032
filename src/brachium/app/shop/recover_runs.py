"""Runs that killed programs left beside the shop file: kept as far as they were written, or put aside and said."""

from __future__ import annotations

from pathlib import Path

from brachium.app.shop.workspace import Workspace
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.text import phrase
from brachium.formats.ids import LONGEST_RUN_ID, ROLES, id_problem
from brachium.formats.run_file import read_run_file
from brachium.formats.run_journal import JOURNAL_SUFFIX


def recover_runs(workspace: Workspace) -> tuple[str, ...]:
    """Keep what killed programs had sampled, as incomplete runs; says what was found."""
    said = []
    for journal in sorted(workspace.journals().glob(f"*{JOURNAL_SUFFIX}")):
        try:
            said.append(_recovered(workspace, journal))
        except (Problem, OSError) as problem:
            said.append(
                phrase(
                    "{problem} {put_aside}",
                    problem=problem.text if isinstance(problem, Problem) else problem,
                    put_aside=_put_aside(journal),
                )
            )
    return tuple(s for s in said if s)


def _recovered(workspace: Workspace, journal: Path) -> str:
    """Keep one; what is said of it. Its journal goes only once the run is on disk. Raises Problem or OSError."""
    job_id, _, rest = journal.name.removesuffix(JOURNAL_SUFFIX).rpartition("@")
    role = rest.partition("-")[0]
    run = read_run_file(journal).run
    problem = id_problem(run.id, LONGEST_RUN_ID)
    if problem or role not in ROLES:
        raise ExpectedProblem(
            phrase("the id of its run {problem}", problem=problem) if problem else "its role is not known", str(journal)
        )
    known = job_id in workspace.job_ids()
    if not known or not run.sessions or run.id in {s.run.id for s in workspace.all_runs(job_id)}:
        journal.unlink(missing_ok=True)
        return ""
    ticket = workspace.add_run(job_id, role, run, lambda: journal.unlink(missing_ok=True))
    workspace.lanes.drain("store")
    if ticket.kept:
        journal.unlink(missing_ok=True)
    name = workspace.card(job_id).name
    return "" if ticket.refused else phrase("{name}: a run was cut off; what it had sampled is kept.", name=name)


def _put_aside(journal: Path) -> str:
    """Give a journal that cannot be read another name, so that it is kept and not read again; what was done."""
    number, target = 1, journal.with_suffix(".damaged")
    while target.exists() or target.is_symlink():
        number += 1
        target = journal.with_suffix(f".{number}.damaged")
    try:
        journal.rename(target)
    except OSError as error:
        return phrase("It could not be put aside ({strerror}).", strerror=error.strerror)
    return phrase("It is put aside as {target}.", target=target.name)
