"""The probe as its own process: one file, clean interpreter, one run file beside itself and nothing else."""

from __future__ import annotations

import ast
import os
import shutil
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from brachium.formats.run_file import read_run_file

ROOT = Path(__file__).parents[2]
OLD = Path.home() / ".pyenv/versions/3.8.18/bin/python"
CLEAN = [str(OLD) if OLD.exists() else sys.executable, "-I", "-S"]


@pytest.fixture(scope="module")
def built(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The probe as `make probe` builds it."""
    subprocess.run(["bash", str(ROOT / "scripts/probe.sh")], check=True, capture_output=True,
                   env={**os.environ, "PYTHON": sys.executable})  # fmt: skip
    return ROOT / "dist/brachium-probe"


@pytest.fixture
def stick(built: Path, tmp_path: Path) -> Path:
    folder = tmp_path / "stick"
    folder.mkdir()
    shutil.copy(built, folder / "brachium-probe")
    return folder


def probe(stick: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([*CLEAN, str(stick / "brachium-probe"), *arguments], capture_output=True, text=True, cwd="/")


def written(stick: Path) -> list[Path]:
    return sorted(p for p in stick.iterdir() if p.name != "brachium-probe")


def test_a_rehearsal_goes_through_everything_and_touches_nothing_else(stick: Path, tmp_path: Path) -> None:
    drive = tmp_path / "drive"
    drive.mkdir()
    done = probe(stick, "--rehearsal", "--room", "22.5", "--folder", str(drive), "--configuration", "cleaned")
    assert done.returncode == 0, done.stderr
    assert len(written(stick)) == 1 and list(drive.iterdir()) == []
    read = read_run_file(written(stick)[0])
    run = read.run
    assert run.complete and read.damaged == () and run.origin == "probe 1" and run.configuration == "cleaned"
    assert run.conditions.room_c == 22.5 and run.conditions.system and run.sessions[0].boot_id
    repeats = {r.test: r for r in run.sessions[0].repeats}
    assert set(repeats) == {t.key for t in run.tests} and all(r.value > 0 for r in repeats.values())
    assert all(key.startswith("probe_") for key in repeats), "never mixed with the program's own workloads"
    assert [(c.key, c.passed) for c in run.checks] == [("mem_test", True), ("drive_layout", True)]
    phases = [p.name for p in run.sessions[0].trace.phases]
    assert phases[:6] == ["memory test", "test file", "settle", "idle", "load", "cool-down"]
    load = run.sessions[0].trace.phase("load")
    util = run.sessions[0].trace.values("util_frac")
    assert load is not None and util is not None and run.protocol.name == "Probe rehearsal"


def test_pulled_in_the_middle_it_loses_at_most_five_seconds(stick: Path) -> None:
    process = subprocess.Popen([*CLEAN, str(stick / "brachium-probe")], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    for line in process.stdout:
        if line.startswith("settle"):
            break
    time.sleep(3.0)
    before = time.monotonic()
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    read = read_run_file(written(stick)[0])
    run = read.run
    assert not run.complete and read.damaged == ()
    assert any("cut off" in note for note in run.notes)
    last = run.sessions[0].trace.phases[-1]
    assert last.name == "settle" and last.end_s - last.start_s > 3.0 - 2.0 - (time.monotonic() - before)


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["--folder", "/nowhere/at/all"], "there is no such folder"),
        (["--folder", "/dev/shm"], "lies in memory (tmpfs)"),
        (["--room", "75"], "state degrees Celsius"),
        (["--out", "/proc/none"], "Name a folder that can be written with --out"),
    ],
)
def test_bad_input_is_refused_in_a_sentence_before_anything_starts(
    stick: Path, arguments: list[str], says: str
) -> None:
    done = probe(stick, "--rehearsal", *arguments)
    assert done.returncode == 1 and says in done.stderr and "Traceback" not in done.stderr
    assert written(stick) == []


def test_every_module_is_readable_by_python_3_8() -> None:
    files = sorted((ROOT / "src/brachium_probe").glob("*.py"))
    assert len(files) > 8
    for path in files:
        tree = ast.parse(path.read_text(), feature_version=(3, 8))
        assert "from __future__ import annotations" in path.read_text() or path.name == "__init__.py"
        for node in ast.walk(tree):
            if isinstance(node, ast.ImportFrom | ast.Import):
                names = [node.module or ""] if isinstance(node, ast.ImportFrom) else [a.name for a in node.names]
                tops = {n.split(".")[0] for n in names}
                assert tops <= {"brachium_probe", *sys.stdlib_module_names}, path.name
