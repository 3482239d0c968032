"""The commands of the main window."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from brachium.app.shared.bench_rights import bench_problem, bench_work_problem
from brachium.app.shop.workspace import now_text
from brachium.core.base.text import phrase, upper_first
from brachium.core.record.job import CONNECTED, KEPT, STAGES, WAITS_OWNER, WAITS_PARTS, DataState, Stage
from brachium.ui.commands import Command
from brachium.ui.shell.menus import show_finder, show_keys, show_menu
from brachium.ui.shell.shell import Shell
from brachium.ui.shell.shop_pages import SHOP_PAGES
from brachium.ui.theme import theme

if TYPE_CHECKING:
    from brachium.ui.pages.work.work_page import WorkPage


BENCH_WORK = ("measure.start", "measure.start_after", "work.tick", "work.bench", "cause.start")
TAKING_IN = ("machine.new", "machine.this", "practice.new", "job.duplicate", "job.batch", "job.import", "log.import",
             "data.backed_up", "job.archive")  # fmt: skip


def register_commands(w: Shell) -> None:
    """Fill the window's registry."""
    for command in (*_general(w), *_stages(w), *_job(w), *_view(w)):
        w.registry.add(_of_role(w, command) if command.id in BENCH_WORK or command.id in TAKING_IN else command)


def _of_role(w: Shell, command: Command) -> Command:
    """A command that not every role may run: grey with its reason, before anything else is asked."""

    def enabled() -> str:
        role = w.session.workspace.database.role
        shut = bench_work_problem(role) if command.id in BENCH_WORK else bench_problem(role, False)
        return phrase("{reason}.", reason=upper_first(shut)) if shut else command.enabled()

    return replace(command, enabled=enabled)


def _general(w: Shell) -> tuple[Command, ...]:
    some = lambda: "" if w.session.job_id else "There is no machine yet."  # noqa: E731
    return (
        Command("next", "Do the next action", "Job", lambda: _next(w), "Ctrl+Return", "arrow-right"),
        Command("undo", "Undo", "Job", lambda: _undo(w), "Ctrl+Z", "undo-2"),
        Command("redo", "Redo", "Job", lambda: _redo(w), "Ctrl+Shift+Z", "redo-2"),
        *(Command(page.id, page.title, "Window", partial(w.show_shop, page.id), page.shortcut) for page in SHOP_PAGES),
        Command("machine.new", "Take a machine in by hand", "Job", w.records.take_by_hand, "Ctrl+N", "plus"),
        Command("machine.this", "Check in this PC", "Job", w.records.take_this_machine),
        Command("practice.new", "Practise on a hidden fault", "Job", lambda: w.records.practise()),
        Command("job.duplicate", "Duplicate the record", "Job", w.records.duplicate_record, "", "copy", some),
        Command("job.batch", "Take in a batch like this one…", "Job", lambda: _ignore(w.records.ask_batch()), "",
                "plus", some),
        Command("job.archive", "Archive the record, or take it out", "Job", w.records.archive_record, "", "", some),
        Command("job.wait_parts", "Waits for parts…", "Job", lambda: _ignore(w.records.ask_hold(WAITS_PARTS)), "", "",
                some),
        Command("job.wait_owner", "Waits for the owner…", "Job", lambda: _ignore(w.records.ask_hold(WAITS_OWNER)), "",
                "", some),
        Command("job.donor", "Keep for parts…", "Job", lambda: _ignore(w.records.ask_hold(KEPT)), "", "", some),
        Command("job.resume", "Back on the bench", "Job", w.records.resume, "", "", w.records.nothing_to_resume),
        Command("rail.search", "Search machines", "Window", w.search_rail, "Ctrl+F", "search"),
        Command("job.export", "Export the job…", "Job", w.files.ask_export, "Ctrl+E", "file-text",
                some),
        Command("job.import", "Import a job or a run…", "Job", w.files.ask_import, "Ctrl+Shift+O", "import"),
        Command("read.stop", "Stop reading files", "Job", w.session.stop_reading, "", "square",
                lambda: "" if w.session.reading else "Nothing is being read."),
        Command("log.import", "Import sensor logs…", "Job", w.files.ask_logs, "Ctrl+O", "import"),
        Command("clashes", "Choose between two values…", "Job", lambda: _clashes(w), "", "",
                lambda: "" if w.session.workspace.clashes.open else "No field was changed at two benches."),
        Command("log", "Who changed this record…", "Job", lambda: _log(w), "", "", some),
        Command("find", "Find a machine, stage or command", "Window", lambda: _ignore(show_finder(w)), "Ctrl+J"),
        Command("menu", "Menu", "Window", lambda: show_menu(w), "F10", in_menu=False),
        Command("keys", "Keys", "Window", lambda: _ignore(show_keys(w)), "F1", "keyboard"),
        Command("quit", "Close the window", "Window", lambda: _ignore(w.close()), "Ctrl+Q"),
    )  # fmt: skip


def _stages(w: Shell) -> tuple[Command, ...]:
    return tuple(
        Command(f"go.{stage.value.lower().replace(' ', '_')}", phrase("Go to {stage}", stage=stage.value), "Stages",
                lambda s=stage: w.session.select_stage(s), phrase("Ctrl+{number}", number=number), in_menu=False)  # type: ignore[misc]
        for number, stage in enumerate(STAGES, 1)
    )  # fmt: skip


def _job(w: Shell) -> tuple[Command, ...]:
    connected = lambda: "" if _bench(w) else "Not connected: drop sensor logs instead."  # noqa: E731
    return (
        Command("condition.show", "Condition map", "Job", lambda: _condition(w), "Ctrl+Shift+M"),
        Command("cause.start", "Find why it does not start", "Job", lambda: _no_start(w), "", "",
                lambda: _start_shut(w)),
        Command("data.backed_up", "Owner's data is backed up and verified", "Job", lambda: _data_safe(w)),
        Command("measure.start", "Measure the before", "Job", lambda: _measure(w, "before"), "", "play", connected),
        Command("measure.start_after", "Measure the after", "Job", lambda: _measure(w, "after"), "", "play", connected),
        Command("measure.conditions", "Conditions of the next run", "Job", lambda: _conditions(w), "Ctrl+K", "",
                connected),
        Command("measure.stop", "Stop the run", "Job", w.session.measure.stop, "Ctrl+.", "square",
                lambda: "" if w.session.measure.active else "No run is in progress."),
        Command("measure.pause", "Pause the run, or go on", "Job", lambda: _pause(w), "Ctrl+Shift+.", "",
                lambda: "" if w.session.measure.active else "No run is in progress."),
        Command("work.tick", "Tick the next work step", "Job", lambda: _tick(w), "", "check",
                lambda: _shut(w, Stage.WORK)),
        Command("work.bench", "Bench mode, twice the type", "Job", lambda: _bench_mode(w), "Ctrl+Shift+B",
                "", lambda: _no_work(w)),
        Command("work.paper", "Print the work sheet…", "Job", lambda: _work_page(w).bar.ask_paper(), "", "file-text",
                lambda: _no_work(w)),
        Command("report.save", "Save the hand-over report…", "Job", lambda: _report(w), "Ctrl+S", "file-text",
                lambda: _shut(w, Stage.HAND_OVER)),
    )  # fmt: skip


def _clashes(w: Shell) -> None:
    from brachium.ui.shell.clash_sheet import ClashSheet

    ClashSheet(w.window(), w.session).show()


def _log(w: Shell) -> None:
    from brachium.ui.shell.log_sheet import LogSheet

    LogSheet(w.window(), w.session).show()


def _shut(w: Shell, stage: Stage) -> str:
    """Why nothing of a stage may be done now, as a sentence; empty where it may."""
    problem = w.session.workspace.stage_problem(w.session.job_id, stage) if w.session.job_id else "no machine is chosen"
    return phrase("{stage} is not open yet: {problem}.", stage=stage.value, problem=problem) if problem else ""


def _view(w: Shell) -> tuple[Command, ...]:
    return (
        Command("theme", "Light or dark", "Window", lambda: w.set_look("light" if theme.is_dark() else "dark"),
                "Ctrl+D", "moon"),
        Command("because.fold", "Fold or unfold Why", "Window",
                lambda: w.because.set_folded(not w.because.folded), "Ctrl+B", "panel-right"),
        Command("rail.fold", "Fold or unfold the rail", "Window", lambda: w.fold_rail(not w.rail_folded), "Ctrl+R",
                "panel-left"),
    )  # fmt: skip


def _ignore(_: object) -> None:
    """Commands return nothing."""


def _bench(w: Shell) -> bool:
    job = w.session.job()
    return job is not None and job.bench in CONNECTED


def _next(w: Shell) -> None:
    """Leave the field being typed in first, so that its value counts, then do the next action."""
    focused = QApplication.focusWidget()
    if focused is not None:
        focused.clearFocus()
    action = w.next.action()
    if action is None:
        return
    elsewhere = w.session.stage is not action.stage
    w.session.select_stage(action.stage)
    if not (elsewhere and action.command == "work.tick"):  # a step is seen before it is ticked
        w.run_command(action.command)


def _undo(w: Shell) -> None:
    """On a page of the shop its own edits, elsewhere those of the selected record."""
    shelf, own = w.session.shelf, w.shop_pages.edits()
    label = own.undo() if own is not None else w.session.undo()
    if label is None:
        return  # a gate is shut, and that stands in the Next bar
    if own is None:
        shelf.undo_with(label)
    w.session.say(phrase("Taken back: {label}", label=label) if label else "There is nothing to undo.")


def _redo(w: Shell) -> None:
    shelf, own = w.session.shelf, w.shop_pages.edits()
    label = own.redo() if own is not None else w.session.redo()
    if label is None:
        return
    if own is None:
        shelf.redo_with(label)
    w.session.say(phrase("Done again: {label}", label=label) if label else "There is nothing to redo.")


def _condition(w: Shell) -> None:
    from brachium.ui.pages.take_in.take_in_page import TakeInPage

    w.session.select_stage(Stage.TAKE_IN)
    page = w.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    page.show_part("condition")


def _start_shut(w: Shell) -> str:
    """Why its path cannot be gone now, and how it opens."""
    shut = _shut(w, Stage.FIND_CAUSE)
    how = "Mark what fails in Take in, such as Starts, or say it in Measure."
    return phrase("{shut} {how}", shut=shut, how=how) if shut else ""


def _no_start(w: Shell) -> None:
    from brachium.ui.pages.find_cause.find_cause_page import FindCausePage

    w.session.select_stage(Stage.FIND_CAUSE)
    page = w.pages[Stage.FIND_CAUSE]
    assert isinstance(page, FindCausePage)
    page.begin_start_path()


def _pause(w: Shell) -> None:
    measure = w.session.measure
    measure.pause(not measure.paused)
    w.session.say("The run waits after the present test." if measure.paused else "The run goes on.")


def _conditions(w: Shell) -> None:
    from brachium.ui.pages.measure.conditions_sheet import ConditionsSheet, of_next_run

    sheet = ConditionsSheet(w.window(), of_next_run(w.session))
    sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    sheet.show()


def _data_safe(w: Shell) -> None:
    job = w.session.job()
    if job is not None:
        safe = replace(job.data_safe, state=DataState.BACKED_UP, who="the bench", when=now_text())
        w.session.edit("data state changed", replace(job, data_safe=safe))


def _measure(w: Shell, role: str) -> None:
    from brachium.ui.pages.measure.measure_page import MeasurePage

    page = w.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    chosen = page.chosen_speed()
    w.session.select_stage(Stage.MEASURE if role == "before" else Stage.PROVE)
    w.session.start_run(role, chosen)
    w.show_page()


def _no_work(w: Shell) -> str:
    """Why there are no steps to show; empty where there are."""
    view = w.session.view()
    return "" if view is not None and view.work.steps else "No steps yet: choose parts first."


def _work_page(w: Shell) -> WorkPage:
    from brachium.ui.pages.work.work_page import WorkPage

    page = w.pages[Stage.WORK]
    assert isinstance(page, WorkPage)
    return page


def _bench_mode(w: Shell) -> None:
    """The step at hand over the whole screen; where Work is shut, its latch says why."""
    w.session.select_stage(Stage.WORK)
    w.show_page()
    if not _shut(w, Stage.WORK):
        _work_page(w).bench_mode()


def _tick(w: Shell) -> None:
    page = _work_page(w)
    w.session.select_stage(Stage.WORK)
    view = w.session.view()
    step = view.work.upcoming if view is not None else None
    if step is not None:
        page.tick(step.id)


def _report(w: Shell) -> None:
    from brachium.ui.pages.hand_over.hand_over_page import HandOverPage

    page = w.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    w.session.select_stage(Stage.HAND_OVER)
    page.ask_folder()
