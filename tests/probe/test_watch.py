"""Going along with days of use: what is counted, what survives sleep, power loss and clock jumps, and consent."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

from brachium.core.use.watched_rows import WATCH
from brachium.formats.run_file import read_run_file
from brachium_probe.graphics import GraphicsSensors
from brachium_probe.tree import Tree
from brachium_probe.watching import watch as watching
from brachium_probe.watching.sampler import CHANNELS, WatchSampler, by_threads, network_bytes
from brachium_probe.watching.watch import Watch, consent, cut_off


@pytest.mark.parametrize(
    ("shares", "wanted"),
    [
        ([0.0, 0.0, 0.0, 0.0], (0.0, 0.0, 0.0)),
        ([1.0, 0.0, 0.0, 0.0], (1.0, 1.0, 0.0)),
        ([0.25, 0.25, 0.25, 0.25], (1.0, 0.0, 0.25)),  # all of them for a quarter of the second
        ([0.6, 0.4, 0.0, 0.0], (1.0, 1.0, 0.0)),  # one thread that wandered
        ([1.0, 0.5, 0.5, 0.5], (2.5, 0.5, 0.5)),
        ([1.0, 1.0, 1.0, 1.0], (4.0, 0.0, 1.0)),
        ([0.3], (0.3, 0.0, 0.3)),
    ],
)
def test_one_thread_and_all_threads_are_told_apart(shares: list[float], wanted: tuple[float, float, float]) -> None:
    assert by_threads(shares) == pytest.approx(wanted)


def machine(root: Path, busy: int = 0, swapped: int = 0) -> Tree:
    """A tree with counters at the start, or 1000 ticks later with the first of two processors busy in so many of them;
    pages that came back."""
    idle = (2000 - busy, 2000) if busy else (1000, 1000)
    stalled = f"some avg10=0 avg60=0 avg300=0 total=0\nfull avg10=0 avg60=0 avg300=0 total={busy * 10000}\n"
    files = {
        "proc/stat": f"cpu  0\ncpu0 {busy} 0 0 {idle[0]} 0 0 0 0\ncpu1 0 0 0 {idle[1]} 0 0 0 0\n",
        "proc/meminfo": "MemTotal: 4194304 kB\nMemAvailable: 1048576 kB\nSwapTotal: 1048576 kB\nSwapFree: 524288 kB\n",
        "proc/vmstat": f"pgmajfault {swapped}\npswpin {swapped}\n",
        "proc/net/dev": f"a\nb\n lo: 999999 0 0 0 0 0 0 0 999999 0\n eth0: {1000 * busy} 0 0 0 0 0 0 0 500 0\n",
        "proc/pressure/io": stalled,
    }
    for name, text in files.items():
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).write_text(text)
    return Tree(str(root))


def test_a_row_holds_what_passed_since_the_last_one(tmp_path: Path) -> None:
    sampler = WatchSampler(machine(tmp_path))
    sampler.row(15.0, 0.0)
    sampler.busy.look()
    machine(tmp_path, 400, 3750)
    sampler.busy.look()
    row = sampler.row(15.0, 0.0)
    assert row["one_thread_frac"] == pytest.approx(0.4) and row["all_threads_frac"] == 0.0
    assert row["io_stall_frac"] == pytest.approx(4.0 / 15.0) and "memory_stall_frac" not in row, "absent, not zero"
    assert row["memory_gib"] == 3.0 and row["memory_total_gib"] == 4.0 and row["swap_gib"] == 0.5
    assert row["major_faults_s"] == 250.0 and row["swap_in_mb_s"] == pytest.approx(1.024)
    assert row["network_mb_s"] == pytest.approx(0.4 / 15.0) and row["network_peak_mb_s"] == pytest.approx(0.4)
    assert network_bytes(Tree(str(tmp_path / "nowhere"))) is None and "clock_mhz" not in row
    sampler.forget()
    assert "io_stall_frac" not in sampler.row(15.0, 0.0), "after a sleep the counters begin anew"


def test_graphics_are_read_where_the_kernel_shows_them(tmp_path: Path) -> None:
    card = tmp_path / "sys/class/drm/card1"
    sensors = card / "device/hwmon/hwmon4"
    sensors.mkdir(parents=True)
    (tmp_path / "sys/class/drm/card0").mkdir()
    values = {"gpu_busy_percent": "37", "mem_info_vram_used": "500", "mem_info_vram_total": "2000"}
    for name, text in values.items():
        (card / "device" / name).write_text(text)
    for name, text in {"power1_average": "21500000", "temp1_input": "61000", "freq1_input": "900000000"}.items():
        (sensors / name).write_text(text)
    read = GraphicsSensors(Tree(str(tmp_path))).read()
    assert read == {"gpu_util_frac": 0.37, "gpu_clock_mhz": 900.0, "gpu_memory_frac": 0.25, "gpu_power_w": 21.5,
                    "gpu_temp_c": 61.0}  # fmt: skip
    (card / "device/gpu_busy_percent").write_text("4000")
    assert "gpu_util_frac" not in GraphicsSensors(Tree(str(tmp_path))).read(), "what cannot be is not shown"
    assert GraphicsSensors(Tree(str(tmp_path / "none"))).read() == {}


def test_nothing_is_recorded_without_consent(tmp_path: Path) -> None:
    with pytest.raises(watching.NotAgreed):
        consent("")
    assert consent("edit suite").startswith("consent: edit suite, 20")
    command = [sys.executable, "-m", "brachium_probe", "watch", "--out", str(tmp_path)]
    done = subprocess.run(command, stdin=subprocess.DEVNULL, capture_output=True, text=True)
    assert done.returncode == 1 and "without consent" in done.stderr and not list(tmp_path.iterdir())
    wrong = subprocess.run([*command, "--agreed-by", "desk", "--hours", "-1"], capture_output=True, text=True)
    assert wrong.returncode == 2 and "-1 hours" in wrong.stderr
    closed = subprocess.run([*command, "--agreed-by", "desk", "--out", str(tmp_path / "none")], capture_output=True,
                            text=True)  # fmt: skip
    assert closed.returncode == 1 and "--out" in closed.stderr


@pytest.fixture
def quick(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(watching, "LOOK_S", 0.01)
    monkeypatch.setattr(watching, "ROW_S", 0.05)


def watched(folder: Path, seconds: float, meanwhile: object = None) -> Path:
    """So long a watch of this machine; `meanwhile` is called in the middle of it."""
    one = Watch.begun(Tree(), str(folder), 1.0, "consent: desk, today", "as taken in")
    thread = threading.Thread(target=one.run)
    thread.start()
    time.sleep(seconds / 2)
    if callable(meanwhile):
        meanwhile()
    time.sleep(seconds / 2)
    one.stop()
    thread.join()
    return Path(one.path)


@pytest.mark.usefixtures("quick")
def test_a_watch_is_a_run_of_numbers_alone(tmp_path: Path) -> None:
    path = watched(tmp_path, 0.6)
    run = read_run_file(path).run
    assert run.protocol.name == WATCH and run.complete and run.notes[0] == "consent: desk, today"
    trace = run.sessions[0].trace
    assert {s.key for s in trace.series} <= {c[0] for c in CHANNELS} and trace.time_s.size >= 3
    rows = [json.loads(line) for line in path.read_text().splitlines()[2:-1]]
    assert all(v is None or isinstance(v, float | int) for r in rows for v in r["v"])
    day = 24 * 3600 / 15 * max(len(line) for line in path.read_text().splitlines()[2:])
    assert day < 2_000_000, "far under 8 MB a day"


@pytest.mark.usefixtures("quick")
def test_a_sleep_begins_a_new_stretch_and_a_clock_jump_is_noted(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    shift = {"up": 0.0, "wall": 0.0}
    up, wall = watching._uptime_s, time.time
    monkeypatch.setattr(watching, "_uptime_s", lambda: up() + shift["up"])
    monkeypatch.setattr(watching.time, "time", lambda: wall() + shift["wall"])

    def sleeps() -> None:
        shift.update(up=3600.0, wall=3600.0 - 7200.0)

    path = watched(tmp_path, 1.6, sleeps)
    run = read_run_file(path).run
    assert [s.number for s in run.sessions] == [1, 2], "no row spans the sleep"
    assert all(float(s.trace.time_s[-1]) < 10.0 for s in run.sessions)
    shift.update(wall=0.0)
    one = Watch.begun(Tree(), str(tmp_path / "."), 1.0, "consent: desk, today", "x")
    one._clock(1000.0, time.time() - 5000.0)
    assert "the clock was set by +4000 s" in one._notes[0]
    one._writer.close()


@pytest.mark.usefixtures("quick")
def test_a_power_loss_costs_the_last_row_and_the_watch_goes_on_in_the_same_file(tmp_path: Path) -> None:
    path = watched(tmp_path, 0.6)
    lines = path.read_text().splitlines()
    path.write_text("\n".join(lines[:-2]) + '\n{"kind":"s","t":99')
    assert cut_off(str(tmp_path), path.name[:6], "after the work") is None, "another configuration is another watch"
    cut = cut_off(str(tmp_path), path.name[:6], "as taken in")
    assert cut is not None and cut[1] == 1 and cut[2] > 0.0
    kept = read_run_file(path).run
    assert not kept.complete and kept.sessions[0].trace.time_s.size == len(lines) - 4
    again = watched(tmp_path, 0.6)
    assert again == path
    whole = read_run_file(path).run
    assert whole.complete and len(whole.sessions) == 2
    assert whole.notes[-1].startswith("consent: desk"), "going on asks for consent again"
    assert watched(tmp_path / ".", 0.3) != path, "one that has ended is not gone on with"


@pytest.mark.usefixtures("quick")
def test_two_watches_never_write_one_file_and_an_old_one_is_left_alone(tmp_path: Path) -> None:
    one = Watch.begun(Tree(), str(tmp_path), 1.0, "consent: desk, today", "as taken in")
    with pytest.raises(watching.GoingOn, match="going on already"):
        Watch.begun(Tree(), str(tmp_path), 1.0, "consent: desk, today", "as taken in")
    one._writer.close()
    assert not watching.held(one.path) and not watching.held(str(tmp_path / "none"))
    long_ago = time.time() - 3.0 * 24 * 3600
    os.utime(one.path, (long_ago, long_ago))
    assert cut_off(str(tmp_path), "watch-", "as taken in") is None


@pytest.mark.usefixtures("quick")
def test_a_full_disk_ends_the_watch_with_words_and_keeps_what_there_is(tmp_path: Path) -> None:
    one = Watch.begun(Tree(), str(tmp_path), 1.0, "consent: desk, today", "x")
    one._writer.close()
    one._writer._file = Path("/dev/full").open("w", encoding="utf-8")  # noqa: SIM115 - closed by the watch
    one.run()
    assert "cannot be written any more" in one.problem and read_first(Path(one.path))["kind"] == "head"


def read_first(path: Path) -> dict[str, object]:
    found = json.loads(path.read_text().splitlines()[0])
    assert isinstance(found, dict)
    return found
