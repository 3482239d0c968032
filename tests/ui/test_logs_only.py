"""Machines that have only logs, from empty shop to three reports: a pair, and five configurations and typed noise."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from brachium.app.files.compare_files import series_all
from brachium.core.measure.statistics import Word
from brachium.core.prove.offered_causes import offered_causes
from brachium.core.record.job import Stage
from brachium.devices.simulated.physics import Thermals
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from tests.core.heat.test_fan_work import COOLING, LOUD, QUIET, SILICON
from tests.support.fleet import record
from tests.ui.conftest import Bench
from tests.ui.test_typed_only import _next, _side, _type, taken_in

REPORTS = ("report", "owner", "buyer")


def keep(bench: Bench, paths: Sequence[Path]) -> None:
    page = bench.window.entry_pages.import_page
    bench.window.files.open_files(tuple(paths))
    bench.until(lambda: len(page.panels) == len(paths))
    QTest.mouseClick(page.keep, Qt.MouseButton.LeftButton)
    workspace, job_id = bench.window.session.workspace, bench.job().id
    bench.until(lambda: len(workspace.all_runs(job_id)) == len(paths))
    bench.until(lambda: (v := bench.window.session.view()) is not None and v.measured.after is not None)
    bench.settled()


def reports_saved(bench: Bench, folder: Path) -> str:
    """Save them; the owner's page."""
    assert _next(bench) == "Save the hand-over report"
    bench.click_stage(Stage.HAND_OVER)
    page = bench.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    QTest.mouseClick(page.save, Qt.MouseButton.LeftButton)
    bench.until(lambda: all((folder / f"{n}.pdf").exists() for n in REPORTS))
    bench.until(lambda: all((folder / f"{n}.html").exists() for n in REPORTS))
    return (folder / "owner.html").read_text()


@pytest.fixture
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    return tmp_path


def test_two_logs_go_all_the_way(empty: Bench, folder: Path, data: Path) -> None:
    taken_in(empty)
    keep(empty, [data / f"laptop-repaste-{side}.csv" for side in ("before", "after")])
    empty.click_stage(Stage.PROVE)
    prove = empty.window.stack.currentWidget()
    assert prove is empty.window.pages[Stage.PROVE], "what was measured is shown, whoever did the work"
    owner = reports_saved(empty, folder)
    assert "Heat no longer slows it down under long load." in owner and "16 K cooler" in owner


def log(path: Path, thermals: Thermals, seed: int) -> Path:
    trace = record(thermals, np.random.default_rng(seed), room_error_k=0.1)
    assert trace.power_w is not None and trace.clock_mhz is not None and trace.fan_rpm is not None
    assert trace.util_frac is not None
    rows = [f"# room {trace.room_c}", "t_s,temp_c,power_w,clock_mhz,fan_rpm,util_pct,room_c"]
    rows += [
        f"{t:.2f},{c:.0f},{w:.2f},{m:.0f},{n:.0f},{100 * u:.0f},{trace.room_c}"
        for t, c, w, m, n, u in zip(trace.time_s, trace.temp_c, trace.power_w, trace.clock_mhz, trace.fan_rpm,
                                    trace.util_frac, strict=True)
    ]  # fmt: skip
    path.write_text("\n".join(rows[1:]))
    return path


def test_five_configurations_and_typed_noise_go_all_the_way(empty: Bench, folder: Path) -> None:
    """As found, other fan curve, fins cleaned, new paste, and the quiet curve again."""
    clean = replace(COOLING, fins_k_w=0.6)
    pasted = replace(clean, paste_k_w=0.2)
    made = ((COOLING, QUIET), (COOLING, LOUD), (clean, LOUD), (pasted, LOUD), (pasted, QUIET))
    names = ("1-as-found", "2-fan-curve", "3-cleaned", "4-new-paste", "5-quiet-again")
    logs = [
        log(folder / f"{name}.csv", Thermals(SILICON, cooling, curve, 22.0, 0.0, 1.0), k)
        for k, (name, (cooling, curve)) in enumerate(zip(names, made, strict=True))
    ]
    taken_in(empty)
    keep(empty, logs)
    panel = empty.own_tests()
    panel.add.setCurrentIndex(panel.add.findData("noise"))
    panel.add.activated.emit(panel.add.currentIndex())
    _type(panel, "44", "44.3")
    _side(panel, "Between…")
    empty.type_in(panel.name, "log 2-fan-curve")
    _type(panel, "52", "52.5")
    _side(panel, "After")
    _type(panel, "38", "38.4")
    runs = [s.run for s in empty.window.session.workspace.all_runs(empty.job().id)]
    assert [r.configuration for r in runs] == [f"log {n}" for n in names]
    series = series_all(runs, arrived=True)
    assert len(series.comparisons) == 4 and len(series.steps) == 4 and not series.stairs.refusal
    fan = offered_causes(series.steps[0])
    assert any("cooler are the fan's work, not the paste's" in cause for cause in fan), fan
    paste = series.steps[2].heat.paste
    assert paste is not None and paste.kind == "changed"
    slower = offered_causes(series.steps[2])  # the same curve turns the fan slower on a cooler chip
    assert all("warmer are the fan's work" in cause and "curve was changed" not in cause for cause in slower), slower
    owner = reports_saved(empty, folder)
    assert "6 dB quieter" in owner and "K cooler" in owner
    report = (folder / "report.html").read_text()
    assert "8.1 dB louder" in report, "typed beside the log of its name"
    assert "the fan&#39;s work, not the paste&#39;s" in report


def test_figures_typed_before_meet_a_log_of_after(empty: Bench, folder: Path, data: Path) -> None:
    """Three numbers of the machine as it came in, a log and the same numbers of it now."""
    taken_in(empty)
    panel = empty.own_tests()
    for kind, values in (("chipload", ("96", "95.5", "96.2")), ("noise", ("47", "47.2"))):
        panel.add.setCurrentIndex(panel.add.findData(kind))
        panel.add.activated.emit(panel.add.currentIndex())
        _type(panel, *values)
    page = empty.window.entry_pages.import_page
    empty.window.files.open_files((data / "laptop-repaste-after.csv",))
    empty.until(lambda: len(page.panels) == 1)
    QTest.mouseClick(page.keep, Qt.MouseButton.LeftButton)
    empty.until(lambda: (v := empty.window.session.view()) is not None and v.measured.after is not None)
    empty.settled()
    panel = empty.own_tests()
    _side(panel, "After")
    _type(panel, "41", "40.8")
    empty.settled()
    view = empty.window.session.view()
    assert view is not None and view.proof.comparison is not None
    noise = view.proof.comparison.gain("own:noise-1")
    assert noise is not None and noise.result is not None and noise.judgement.word is Word.BETTER
    owner = reports_saved(empty, folder)
    assert "6 dB quieter" in owner
