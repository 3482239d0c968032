"""Pictures of the main views, taken from the real window without a screen."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QEventLoop
from PySide6.QtWidgets import QApplication

from brachium.core.base.text import phrase
from brachium.core.record.job import STAGES, Stage
from brachium.formats.atomic import write_atomically
from brachium.ui.pages.shop.day_page import DayPage
from brachium.ui.run import make_window
from brachium.ui.shell.window import MainWindow
from brachium.ui.widgets.save_figure import png_bytes

SIZE = (1280, 800)
DARK_STAGES = (Stage.PROVE,)
WAIT_S = 60.0


def take_pictures(shop: Path, folder: Path, say: Callable[[str], None]) -> tuple[Path, ...]:
    """One PNG of every stage in light, the figure pages in dark too. Raises EnvironmentProblem."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    window, _poster = make_window(shop, demo=False)
    window.resize(*SIZE)
    window.show()
    out = []
    try:
        _wait(lambda: window.session.view() is not None)
        for dark in (False, True):
            window.set_look("dark" if dark else "light")
            for number, stage in enumerate(STAGES, 1):
                if dark and stage not in DARK_STAGES:
                    continue
                name = stage.value.lower().replace(" ", "-")
                out.append(_picture(window, stage, folder / f"{number}-{name}{'-dark' if dark else ''}.png"))
        window.set_look("light")
        out += _of_the_shop(window, folder)
    finally:
        window.close()
        window.session.workspace.close()
    out.append(_before_a_run(folder))
    out.append(_first_page(folder))
    say(phrase("Pictures     {count} in {folder}", count=len(out), folder=folder))
    return tuple(out)


def _first_page(folder: Path) -> Path:
    """What an empty shop shows."""
    with tempfile.TemporaryDirectory() as empty:
        window, _poster = make_window(Path(empty) / "shop.db", demo=False)
        window.set_look("light")
        window.resize(*SIZE)
        window.show()
        _wait(lambda: False, 0.3)
        path = folder / "0-first-page.png"
        write_atomically(path, png_bytes(window.grab()))
        window.close()
        window.session.workspace.close()
    return path


OTHERS = (("archive-workstation", Stage.TAKE_IN, "1-take-in-facts"), ("playout-pc", Stage.PROVE, ""))


def _of_the_shop(window: MainWindow, folder: Path) -> list[Path]:
    """Other machines of the demo shop, where it holds them, and the parts shelf."""
    out = []
    for job_id, stage, name in OTHERS:
        if job_id in window.session.workspace.job_ids():
            window.session.select_job(job_id)
            _wait(lambda: window.session.view() is not None)
            if stage is Stage.TAKE_IN:
                window.run_command("go.take_in")
                getattr(window.pages[stage], "show_part")("facts")  # noqa: B009 - the page's own switch
            if name:  # another one only comes into view
                out.append(_picture(window, stage, folder / f"{name}.png"))
    out += _parts_of_measure(window, folder)
    out += _parts_of_cause(window, folder)
    for name, file in (("shelf", "8-shelf.png"), ("prices", "8-prices.png"), ("track", "8-track-record.png")):
        window.show_shop(name)
        _wait(lambda: False, 2.0 if name == "prices" else 0.3)  # what fits is counted beside
        write_atomically(folder / file, png_bytes(window.grab()))
        out.append(folder / file)
    return [*out, _day(window, folder)]


MORNING = datetime(2026, 11, 25, 8, 55)
PLANNED = (
    ("edit-suite-tower", ("cpu-d8-80@socket", "cool-tower-140@cooler", "nvme-500@m2")),
    ("outside-broadcast-laptop", ("svc-clean",)), ("reception-all-in-one", ("mem-2x8-l",)),
)  # fmt: skip


def _day(window: MainWindow, folder: Path) -> Path:
    """The day sheet on a morning with three machines planned; their records are as before afterwards."""
    workspace = window.session.workspace
    edited = []
    for job_id, plan in PLANNED:
        if job_id in workspace.job_ids():
            workspace.edit("planned", replace(workspace.job(job_id), plan=plan, hold=None))
            edited.append(job_id)
    page = window.shop_pages.page("day")
    assert isinstance(page, DayPage)
    page.now = lambda: MORNING
    window.show_shop("day")
    _wait(page.settled, 20.0)
    _wait(lambda: False, 0.3)
    write_atomically(folder / "8-day.png", png_bytes(window.grab()))
    for job_id in edited:
        workspace.undo(job_id)
    return folder / "8-day.png"


def _parts_of_measure(window: MainWindow, folder: Path) -> list[Path]:
    """Own tests and what is felt, of the machine in view."""
    from brachium.ui.pages.measure.measure_page import MeasurePage

    window.session.select_stage(Stage.MEASURE)
    page = window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    out = []
    page.show_part("own")
    out.append(_picture(window, Stage.MEASURE, folder / "2-measure-own.png"))
    page.show_part("everyday")
    out.append(_picture(window, Stage.MEASURE, folder / "2-measure-everyday.png"))
    page.show_part("run")
    return out


def _parts_of_cause(window: MainWindow, folder: Path) -> list[Path]:
    """Heat with a what-if of the machine whose job is done, and the swap grid of the one that does not start."""
    from brachium.ui.pages.find_cause.find_cause_page import FindCausePage

    page = window.pages[Stage.FIND_CAUSE]
    assert isinstance(page, FindCausePage)
    out = []
    for job_id, part in (("newsroom-laptop", "heat"), ("archive-workstation", "swap")):
        if job_id not in window.session.workspace.job_ids():
            continue
        window.session.select_job(job_id)
        _wait(lambda j=job_id: (v := window.session.view()) is not None and v.job.id == j)  # type: ignore[misc]
        window.session.select_stage(Stage.FIND_CAUSE)
        page.show_part(part)
        page.heat.sliders["paste"].setValue(45)
        out.append(_picture(window, Stage.FIND_CAUSE, folder / f"3-find-cause-{part}.png"))
    page.heat.reset()
    page.show_part("causes")
    return out


def _before_a_run(folder: Path) -> Path:
    """Measure as it is before anything was measured, on a shop of its own."""
    with tempfile.TemporaryDirectory() as fresh:
        window, _poster = make_window(Path(fresh) / "shop.db", demo=True)
        window.resize(*SIZE)
        window.show()
        try:
            window.run_command("data.backed_up")
            _wait(lambda: (v := window.session.view()) is not None and v.job == window.session.job())
            return _picture(window, Stage.MEASURE, folder / "2-measure-plan.png")
        finally:
            window.close()
            window.session.workspace.close()


def _picture(window: MainWindow, stage: Stage, path: Path) -> Path:
    window.session.select_stage(stage)
    _wait(lambda: False, 0.3)
    if stage is Stage.WORK:
        getattr(window.pages[stage], "steps").choose("memory")  # noqa: B009 - the page's own strip
        _wait(lambda: False, 0.2)
    if stage is Stage.HAND_OVER:
        preview = getattr(window.pages[stage], "preview")  # noqa: B009 - the page's own view
        _wait(lambda: bool(preview.pages()) and not preview.busy())
    write_atomically(path, png_bytes(window.grab()))
    return path


def _wait(ready: Callable[[], bool], limit_s: float = WAIT_S) -> None:
    """Let the window work until something is true."""
    end = time.monotonic() + limit_s
    while not ready() and time.monotonic() < end:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
