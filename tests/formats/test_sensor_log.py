"""Foreign logs: what is recognised, and what is said about broken ones."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.heat.claims import read_one
from brachium.core.heat.run_traces import heat_traces
from brachium.formats.log_run import run_from_log
from brachium.formats.sensor_log import read_sensor_log


def log_text(n: int = 300, load: tuple[int, int] = (60, 220), power: bool = True) -> str:
    """A small log with a load phase."""
    rows = ["t_s,temp_c,power_w,util_pct" if power else "t_s,temp_c,clock_mhz,fan_rpm"]
    for t in range(n):
        busy = load[0] <= t < load[1]
        temp = 40 + (30 if busy else 0)
        rows.append(f"{t}.0,{temp},{35.0 if busy else 5.0},{99.0 if busy else 1.0}" if power
                    else f"{t}.0,{temp},{3000},{2000}")  # fmt: skip
    return "\n".join(rows) + "\n"


def write(tmp_path: Path, text: str | bytes, name: str = "a.csv") -> Path:
    path = tmp_path / name
    path.write_bytes(text.encode() if isinstance(text, str) else text)
    return path


@pytest.mark.parametrize(
    ("name", "units", "room", "bad"),
    [
        ("laptop-repaste-before", {"temp": "°C", "power": "W", "clock": "MHz", "util": "%", "room": "°C"}, 24.0, 0),
        ("tower-cleaned-after", {"temp": "°F", "power": "mW", "clock": "GHz", "util": "%"}, 22.0, 0),
        ("small-desktop-unchanged-before", {"temp": "°C", "power": "W", "clock": "MHz", "util": "fraction"}, None, 1),
        ("small-desktop-short-load-after", {"temp": "°C", "power": "W", "fan": "1/min"}, 25.0, 0),
    ],
)
def test_sample_logs_are_recognised(data: Path, name: str, units: dict[str, str], room: float | None, bad: int) -> None:
    log = read_sensor_log(data / f"{name}.csv")
    found = {c.role: c.unit for c in log.columns}
    assert units.items() <= found.items()
    assert log.room_c == (pytest.approx(room, abs=0.01) if room is not None else None)
    assert len(log.bad_lines) == bad
    temp, power = log.trace.values("temp_c"), log.trace.values("power_w")
    assert temp is not None and power is not None
    assert np.nanmin(temp) > 20 and np.nanmax(temp) < 100 and 20 < np.nanmax(power) < 120


def test_clock_times_run_on_past_midnight(data: Path) -> None:
    log = read_sensor_log(data / "small-desktop-unchanged-before.csv")
    assert np.all(np.diff(log.trace.time_s) > 0)
    assert log.trace.time_s[-1] == pytest.approx(1018, abs=5)
    assert log.bad_lines[0] == (402, "---- sensor service restarted ----")


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.sampled_from([(",", "."), (";", ","), (";", "."), ("\t", "."), ("\t", ","), ("|", ".")]),
    st.sampled_from(["s", "ms", "clock", "date"]), st.sampled_from(["\n", "\r\n"]), st.booleans(),
    st.sampled_from([("Chip [°C]", 0), ("Chip [°F]", 1), ("Chip temp", 0)]),
)  # fmt: skip
def test_any_dialect_gives_the_same_numbers(
    tmp_path: Path, dialect: tuple[str, str], clock: str, eol: str, bom: bool, temp: tuple[str, int]
) -> None:
    separator, decimal = dialect
    times = 86_000.0 + np.arange(40) * 30.0
    celsius = 40.0 + 10.0 * np.sin(np.arange(40) / 5)
    stamps = {
        "s": [f"{t:.1f}" for t in times], "ms": [f"{1000 * t:.0f}" for t in times],
        "clock": [_clock(t % 86_400) for t in times],
        "date": [f"2026-11-{24 + int(t // 86_400)} {_clock(t % 86_400)}" for t in times],
    }[clock]  # fmt: skip
    shown = celsius * 1.8 + 32 if temp[1] else celsius
    head = {"s": "Elapsed [s]", "ms": "Elapsed [ms]", "clock": "Time", "date": "Time"}[clock]
    rows = [separator.join([head, temp[0], "Power [W]"])]
    rows += [separator.join([t.replace(".", decimal), f"{v:.3f}".replace(".", decimal), "20.5".replace(".", decimal)])
             for t, v in zip(stamps, shown, strict=True)]  # fmt: skip
    text = ("\ufeff" if bom else "") + "# a comment" + eol + eol.join(rows) + eol
    log = read_sensor_log(write(tmp_path, text))
    read = log.trace.values("temp_c")
    assert read is not None
    np.testing.assert_allclose(read, celsius, atol=0.002)
    np.testing.assert_allclose(log.trace.time_s, times - times[0], atol=0.06)


def _clock(seconds: float) -> str:
    return f"{int(seconds // 3600):02d}:{int(seconds % 3600 // 60):02d}:{seconds % 60:06.3f}"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (b"", "the file is empty"),
        (b"\x00\x01\x02" * 50, "not a text file"),
        ("nothing here\nto be seen\n", "no heading line"),
        ("time,chip temp,power\n0,40,5\n1,41,5\n", "only 2 data lines"),
        (log_text().replace("temp_c", "colour").replace("t_s", "t_s"), "no column for chip temperature"),
        (log_text().replace("\n150.0,", "\n20.0,"), "runs backwards 1 time, first at line 152"),
        (log_text().replace("temp_c", "temp_k"), "cannot be a chip temperature"),
        ("t_s,temp_c,power_w\n" + "".join(f"{k},n/a,5\n" for k in range(30)), "holds no numbers"),
        ("t_s,temp_c,power_w\n" + "".join(f"soon,{k},5\n" for k in range(30)), "no readable times"),
        ("t_s,temp_c,power_w\n" + "".join(f"{k},40,5\n" if k % 2 else "broken\n" for k in range(60)), "cannot be read"),
    ],
)
def test_broken_logs_name_place_and_remedy(tmp_path: Path, text: str | bytes, says: str) -> None:
    path = write(tmp_path, text)
    with pytest.raises(ExpectedProblem) as caught:
        read_sensor_log(path)
    problem = caught.value
    assert says in problem.text
    assert str(path) in problem.text and problem.remedy


def test_missing_and_unreadable_files_are_the_environments(tmp_path: Path) -> None:
    with pytest.raises(EnvironmentProblem, match="no such file"):
        read_sensor_log(tmp_path / "none.csv")
    with pytest.raises(EnvironmentProblem, match="folder"):
        read_sensor_log(tmp_path)


def shared_sink(with_graphics: bool) -> str:
    """A chip and a graphics chip on one heatsink, by an integrator of its own: 0.6 and 0.7 K/W, 24 degC."""
    rng = np.random.default_rng(4)
    chip = sink = 0.0
    graphics = ",GPU power [W],GPU busy [%]" if with_graphics else ""
    lines = [f"# room 24.0 C\ntime_s,CPU temp [C],CPU power [W],CPU clock [MHz],fan [rpm],CPU load [%]{graphics}"]
    for second in range(1500):
        load = 120 <= second < 1200
        power, other = (30.0 if load else 4.0), (25.0 if 500 <= second < 1200 else 2.0)
        for _ in range(20):
            flow = (chip - sink) / 0.6
            chip += 0.05 * (power - flow) / 9.0
            sink += 0.05 * (flow + other - sink / 0.7) / 220.0
        temp = 24.0 + chip + rng.normal(0.0, 0.2)
        tail = f",{other:.1f},{90 if other > 3 else 2}" if with_graphics else ""
        lines.append(f"{second},{temp:.1f},{power:.1f},3000,3000,{98 if load else 2}{tail}")
    return "\n".join(lines) + "\n"


def test_graphics_columns_are_the_graphics_own_and_join_the_heat_fit(tmp_path: Path) -> None:
    log = read_sensor_log(write(tmp_path, shared_sink(True)))
    assert {c.role: c.header for c in log.columns} == {
        "time": "time_s", "temp": "CPU temp [C]", "power": "CPU power [W]", "clock": "CPU clock [MHz]",
        "fan": "fan [rpm]", "util": "CPU load [%]", "gpu_power": "GPU power [W]", "gpu_util": "GPU busy [%]",
    }  # fmt: skip
    busy = log.trace.values("gpu_util_frac")
    assert busy is not None and np.nanmax(busy) == pytest.approx(0.90)
    alone = read_sensor_log(write(tmp_path, shared_sink(False), "b.csv"))
    sides = []
    for one in (log, alone):
        reading = read_one(heat_traces(run_from_log(one, "r", "c", "", 24.0))[0])
        assert reading.stair is not None
        sides.append(
            (reading.stair.chip_to_sink_k / reading.power_ref_w, reading.stair.sink_to_room_k / reading.power_ref_w)
        )
    assert sides[0] == pytest.approx((0.6, 0.7), rel=0.03)
    assert sides[1][1] > 0.9, "without the second source the heatsink looks far worse than it is"


def test_a_truncated_last_line_is_listed_not_guessed(tmp_path: Path) -> None:
    log = read_sensor_log(write(tmp_path, log_text() + "300.0,4"))
    assert log.bad_lines == ((302, "300.0,4"),)
    assert log.trace.time_s.size == 300


def test_samples_within_the_same_second_are_spread(tmp_path: Path) -> None:
    """A logger at 2 Hz that stamps whole seconds."""
    rows = [f"{k // 2},{40 + (30 if 100 < k < 400 else 0)},{35 if 100 < k < 400 else 5}" for k in range(500)]
    log = read_sensor_log(write(tmp_path, "t_s,temp_c,power_w\n" + "\n".join(rows)))
    np.testing.assert_allclose(np.diff(log.trace.time_s), 0.5)
    with pytest.raises(ExpectedProblem, match="stands still"):
        read_sensor_log(write(tmp_path, "t_s,temp_c,power_w\n" + "\n".join(["5,40,5"] * 30), "b.csv"))


def test_empty_cells_stay_missing(tmp_path: Path) -> None:
    log = read_sensor_log(write(tmp_path, log_text().replace("100.0,70,35.0", "100.0,70,")))
    power = log.trace.values("power_w")
    assert power is not None and np.isnan(power[100]) and np.isfinite(power[99])


def test_a_stated_unit_mends_what_the_header_hides(tmp_path: Path) -> None:
    text = log_text().replace("temp_c", "temp_k").replace(",70,", ",343.15,").replace(",40,", ",313.15,")
    path = write(tmp_path, text)
    log = read_sensor_log(path)
    stated = read_sensor_log(path, {"temp": "k"})
    for found in (log, stated):
        temp = found.trace.values("temp_c")
        assert temp is not None and float(np.nanmax(temp)) == pytest.approx(70.0)
    with pytest.raises(ExpectedProblem, match="not known for 'temp'"):
        read_sensor_log(path, {"temp": "watts"})


def test_a_log_without_load_is_refused(tmp_path: Path) -> None:
    calm = read_sensor_log(write(tmp_path, log_text(load=(400, 500))))
    with pytest.raises(ExpectedProblem, match="no load phase found"):
        run_from_log(calm, "r", "c", "")
    blind = read_sensor_log(write(tmp_path, log_text(power=False), "b.csv"))
    with pytest.raises(ExpectedProblem, match="no load phase found"):
        run_from_log(blind, "r", "c", "")


def test_phases_are_named_and_a_typed_room_wins(data: Path) -> None:
    log = read_sensor_log(data / "laptop-repaste-before.csv")
    run = run_from_log(log, "r", "c", "", 21.5)
    phases = {p.name: p for p in run.sessions[0].trace.phases}
    assert phases["load"].start_s == pytest.approx(120, abs=2)
    assert phases["load"].end_s == pytest.approx(720, abs=2)
    assert run.conditions.room_c == 21.5 and run.conditions.room_note == "typed"


def test_a_long_log_is_read_without_a_loop_per_cell(tmp_path: Path) -> None:
    """A hundred thousand lines; the benchmark has the time, here only the count is checked."""
    time = np.arange(100_000)
    busy = (time > 1000) & (time < 90_000)
    rows = [f"{t},{70 if b else 40},{35 if b else 5}" for t, b in zip(time.tolist(), busy.tolist(), strict=True)]
    log = read_sensor_log(write(tmp_path, "t_s,temp_c,power_w\n" + "\n".join(rows)))
    assert log.trace.time_s.size == 100_000 and not log.bad_lines
