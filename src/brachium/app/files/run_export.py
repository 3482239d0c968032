"""A run written for other programs: as a run file, its traces as CSV, its traces as a picture."""

from __future__ import annotations

from pathlib import Path

from brachium.app.view.figures import is_sampled, run_strand
from brachium.core.base.problems import ExpectedProblem
from brachium.core.figures.base.theme import Colours
from brachium.core.figures.plots.traces import twin_traces
from brachium.core.measure.run import Run
from brachium.formats.atomic import write_atomically
from brachium.formats.run_file import trace_csv, write_run_file
from brachium.report.svg import drawing_to_svg

PICTURE = (1000.0, 560.0)


def export_run(run: Run, path: Path, limit_c: float | None, colours: Colours) -> tuple[Path, ...]:
    """Write by the name's ending: .json the whole run, .csv a file per session, .svg the traces of the first session.

    Returns what was written. Raises EnvironmentProblem; an old file stays until the new one is whole.
    """
    kind = path.suffix.lower()
    if kind == ".csv":
        several = len(run.sessions) > 1
        out = []
        for session in run.sessions:
            name = f"{path.stem}-s{session.number}.csv" if several else path.name
            write_atomically(path.with_name(name), trace_csv(session.trace).encode())
            out.append(path.with_name(name))
        return tuple(out)
    if kind == ".svg":
        if not is_sampled(run):
            raise ExpectedProblem("this run holds no samples to draw", str(path), "Write it as a run file (.json).")
        drawing = twin_traces((run_strand(run, run.configuration or "run", False, limit_c),), *PICTURE)
        write_atomically(path, drawing_to_svg(drawing, colours).encode())
        return (path,)
    target = path if kind == ".json" else path.with_name(f"{path.name}.json")
    write_run_file(run, target)
    return (target,)
