"""Lines and columns of logs, whole arrays at a time, against reading line by line; joins; remembered readings."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from brachium.app.files.log_presets import LogPresets, heading_key
from brachium.app.shop.workspace import Workspace
from brachium.core.base.problems import ExpectedProblem
from brachium.formats.log_columns import Reading
from brachium.formats.log_join import join_logs
from brachium.formats.log_text import read_text, rows_below
from brachium.formats.sensor_log import UnknownColumns, read_sensor_log
from brachium.formats.shop_documents import LOG_PRESETS

CELLS = st.sampled_from(["1", "2.5", "-3", "", "n/a", "1e3", " 7 ", '"8"', "soon"])
ROW, ODD = st.lists(CELLS, min_size=3, max_size=3), st.lists(CELLS, min_size=1, max_size=5)
LINES = st.lists(st.one_of(ROW, ODD, st.just(["# note"]), st.just([""])), min_size=1, max_size=40)


def plain(cell: str) -> float:
    try:
        return float(cell.strip().strip('"'))
    except ValueError:
        return float("nan")


@settings(max_examples=80, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(LINES, st.sampled_from(["\n", "\r\n"]), st.booleans())
def test_columns_are_those_of_reading_line_by_line(tmp_path: Path, lines: list[list[str]], eol: str, bom: bool) -> None:
    text = ("\ufeff" if bom else "") + eol.join(["a,b,c", *(",".join(line) for line in lines)])
    (tmp_path / "x.csv").write_bytes(text.encode())
    read = read_text(tmp_path / "x.csv")
    rows = rows_below(read, 0, ",", 3)
    joined = [",".join(line) for line in lines]
    content = [(n, t) for n, t in enumerate(joined, 2) if t.strip() and not t.startswith("#")]
    good = [(n, t.split(",")) for n, t in content if t.count(",") == 2]
    assert [int(k) + 1 for k in rows.lines] == [n for n, _ in good]
    assert [n for n, _ in rows.bad] == [n for n, t in content if t.count(",") != 2]
    assert len(read.comments()) == sum(t.startswith("#") for t in joined)
    if good:
        for column in range(3):
            np.testing.assert_array_equal(rows.numbers(column, False), [plain(f[column]) for _, f in good])


def log(path: Path, heading: str, row: object) -> Path:
    path.write_text("\n".join([heading, *(row(t) for t in range(900))]))  # type: ignore[operator]
    return path


def test_a_log_is_read_as_stated_and_says_what_is_missing(tmp_path: Path) -> None:
    path = log(tmp_path / "x.csv", "a;b;c", lambda t: f"{t};{70 if 60 < t < 700 else 40};{35 if 60 < t < 700 else 5}")
    with pytest.raises(UnknownColumns) as caught:
        read_sensor_log(path)
    assert caught.value.headers == ("a", "b", "c") and "Say which column" in caught.value.remedy
    read = read_sensor_log(path, reading=Reading({"temp": "c"}, {"time": "a", "temp": "b", "power": "c"}))
    assert [c.header for c in read.columns] == ["a", "b", "c"]
    without = read_sensor_log(path, reading=Reading({}, {"time": "a", "temp": "b", "power": ""}))
    assert without.trace.values("power_w") is None


def test_logs_without_a_common_load_are_taken_to_begin_together(tmp_path: Path) -> None:
    first = read_sensor_log(
        log(tmp_path / "a.csv", "t_s,temp_c,util_pct", lambda t: f"{t},{40 + t % 3},{99 if t > 60 else 1}")
    )
    calm = log(tmp_path / "b.csv", "t_s,fan_rpm,other", lambda t: f"{t + 5000},{2000 + t},1")
    second = read_sensor_log(calm, reading=Reading(required=("time",)))
    joined = join_logs(first, second)
    fan = joined.trace.values("fan_rpm")
    assert fan is not None and fan[10] == pytest.approx(2010) and "both taken to begin together" in joined.notes[0]
    with pytest.raises(ExpectedProblem, match="adds nothing"):
        join_logs(joined, second)


def test_what_was_said_of_a_logger_is_remembered_and_damage_is_survived(shop: Workspace) -> None:
    presets, headers = LogPresets(shop), ("Zeit", "A", "B")
    presets.remember(headers, Reading())
    assert presets.reading(headers) is None, "nothing was said"
    presets.remember(headers, Reading({"temp": "f"}, {"temp": "A"}))
    shop.lanes.drain("store")
    again = LogPresets(shop).reading(("zeit ", "a", "b"))
    assert again is not None and again.units == {"temp": "f"} and again.columns == {"temp": "A"}
    assert heading_key(headers) == "zeit|a|b"
    for text in ("{broken", "[]", '{"x": 5}', '{"x": {"units": 1, "columns": {}}}'):
        shop.save_setting(LOG_PRESETS.key, text)
        shop.lanes.drain("store")
        assert LogPresets(shop).reading(headers) is None


def test_two_slashes_or_a_hash_are_a_remark_and_one_slash_is_not(tmp_path: Path) -> None:
    (tmp_path / "x.csv").write_text("a,b\n// note\n/path,1\n # more\n5/2,7\n")
    assert [c.strip() for c in read_text(tmp_path / "x.csv").comments()] == ["// note", "# more"]
