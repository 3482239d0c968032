"""`brachium report`, `export`, `import`: the jobs of a shop file."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from brachium.cli.common import Shop, app, job_of, open_workspace, print_problem

Job = Annotated[str, typer.Option(help="Job in that shop; may be left out where there is only one.")]


@app.command()
def report(
    out: Annotated[Path, typer.Option(help="Folder for report.html and report.pdf.")], shop: Shop = "", job: Job = "",
    language: Annotated[str, typer.Option(help="Such as de; the shop default where none is named.")] = "",
    currency: Annotated[str, typer.Option(help="Three letters, with a rate in Settings.")] = "",
    every: Annotated[bool, typer.Option("--all", help="Of every job, each in a folder of its own.")] = False,
) -> None:  # fmt: skip
    """Write the hand-over reports of a job: technician, owner, buyer."""
    with print_problem():
        from brachium.app.reports.full_report import write_report
        from brachium.app.reports.report_speech import with_asked
        from brachium.formats.atomic import check_folder
        from brachium.formats.ids import file_stem

        check_folder(out)
        workspace = open_workspace(shop)
        try:
            for job_id in workspace.job_ids() if every else (job_of(workspace, job),):
                view = workspace.compute_now(job_id)
                folder = out / file_stem(job_id) if every else out
                check_folder(folder)
                files = write_report(view, folder, speech=with_asked(workspace, view.job, language, currency))
                typer.echo(f"report in {files.html} and {files.pdf}")
        finally:
            workspace.close()


@app.command("export")
def export_job(
    out: Annotated[Path, typer.Option(help="Job archive to write (.zip).")], shop: Shop = "", job: Job = ""
) -> None:
    """Write a job with its runs as one archive that opens elsewhere."""
    with print_problem():
        from brachium.app.files.job_transfer import export_job as write

        workspace = open_workspace(shop)
        try:
            job_id = job_of(workspace, job)
            runs = write(workspace, job_id, out)
        finally:
            workspace.close()
        typer.echo(f"{job_id} with {runs} run{'s' if runs != 1 else ''} in {out}")


@app.command("import")
def import_job(
    archive: Annotated[Path, typer.Argument(help="Job archive, or a run file.")],
    shop: Shop = "",
    job: Annotated[str, typer.Option(help="Job to keep a run file under; empty makes a new one.")] = "",
    role: Annotated[str, typer.Option("--as", help="before, after or later, for a run file.")] = "before",
) -> None:
    """Take a job archive or a run file into a shop. Nothing is taken twice."""
    with print_problem():
        from brachium.app.files.job_transfer import take_in

        workspace = open_workspace(shop, make=True)
        failures: list[Exception] = []
        workspace.on_problem.append(failures.append)
        try:
            taken = take_in(workspace, archive, job, role)
            workspace.lanes.drain("store")
            workspace.writes.raise_unsaved()
        finally:
            workspace.close()
        if failures:
            raise failures[0]
        for text in taken.damaged:
            typer.echo(f"{archive}: {text}.", err=True)
        typer.echo(taken.said)


@app.command()
def restore(
    shop: Annotated[Path, typer.Argument(help="Shop file that cannot be opened.")],
    copy: Annotated[Path | None, typer.Option("--from", help="The newest good backup where none is named.")] = None,
) -> None:
    """Put a copy of a backup in the place of a shop file; what was there is kept under another name."""
    with print_problem():
        from brachium.core.base.problems import ExpectedProblem
        from brachium.store.backups import is_good, newest_good
        from brachium.store.backups import restore as put_back
        from brachium.store.database import unlocked

        found = copy or newest_good(shop)
        if found is None or not is_good(found):
            raise ExpectedProblem(
                "there is no backup that reads back whole", str(found or shop), "Name one with --from."
            )
        with unlocked(shop):
            aside = put_back(shop, found)
        typer.echo(f"{shop} is {found.name} again{f'; what was there is {aside}' if aside else ''}")
