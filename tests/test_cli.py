"""The command line: results, exit codes, light start."""

from __future__ import annotations

import os
import resource
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from typer.testing import CliRunner

from brachium.cli.commands import app
from brachium.store.database import Database


def newer_shop(folder: Path) -> Path:
    """A shop file as a later version would leave it."""
    path = folder / "newer.db"
    Database(path).close()
    with sqlite3.connect(path) as c:
        c.execute("update alembic_version set version_num = '9999'")
    c.close()
    return path


HEAVY = ("scipy", "pandas", "matplotlib", "weasyprint", "ortools", "alembic")


def run(*arguments: str) -> tuple[int, str]:
    done = CliRunner().invoke(app, list(arguments))
    return done.exit_code, done.output


def test_compare_gives_the_heat_verdict(data: Path) -> None:
    code, text = run("compare", str(data / "laptop-repaste-before.csv"), str(data / "laptop-repaste-after.csv"))
    assert code == 0
    assert "16 ± 2 K less" in text and "no change above 3.7 K" in text
    assert "Paste helped more than airflow" in text and "thermal, 19% of the load" in text


def test_compare_refuses_without_a_room_and_takes_typed_ones(data: Path) -> None:
    logs = [str(data / f"small-desktop-unchanged-{role}.csv") for role in ("before", "after")]
    code, text = run("compare", *logs)
    assert code == 0 and "room temperature is not known" in text
    code, text = run("compare", *logs, "--room-before", "25", "--room-after", "25.5")
    assert code == 0 and "The heat path is unchanged" in text


def test_import_log_shows_and_keeps(data: Path, tmp_path: Path) -> None:
    shop = tmp_path / "shop.db"
    code, text = run("import-log", str(data / "tower-cleaned-before.csv"), "--keep", str(shop))
    assert code == 0
    assert "Chip [°F] [°F]" in text and "21.0 °C, comment line" in text and "kept in" in text
    code, text = run("import-log", str(data / "tower-cleaned-after.csv"), "--keep", str(shop), "--job", "tower-cleaned",
                     "--condition", "fan=quiet", "--condition", "Power profile=balanced")  # fmt: skip
    assert code == 0 and "after-run of tower-cleaned" in text and "fan quiet, power profile balanced" in text
    code, text = run("import-log", str(data / "tower-cleaned-after.csv"), "--keep", str(shop), "--job", "nobody")
    assert code == 1 and "Known: tower-cleaned" in text


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["import-log", "none.csv"], "no such file"),
        (["import-log", "{data}/truth.json"], "no heading line"),
        (["import-log", "{data}/tower-cleaned-before.csv", "--unit", "temp"], "not column=unit"),
        (["import-log", "{data}/tower-cleaned-before.csv", "--unit", "temp=k"], "cannot be a chip temperature"),
        (["import-log", "{data}/tower-cleaned-before.csv", "--as", "later"], "neither before nor after"),
        (
            ["import-log", "{data}/tower-cleaned-before.csv", "--condition", "moon=full"],
            "no condition; there are panel",
        ),
        (
            ["import-log", "{data}/tower-cleaned-before.csv", "--condition", "fan=fast"],
            "fan is automatic or full speed",
        ),
        (["import-log", "{data}/tower-cleaned-before.csv", "--condition", "adapter=9 W"], "Adapter: state 5 to 500 W"),
        (["compare", "{data}/tower-cleaned-before.csv", "none.csv"], "no such file"),
        (["demo", "--headless", "--out", "{data}/truth.json"], "in the way"),
    ],
)
def test_bad_input_exits_with_one_and_a_sentence(data: Path, arguments: list[str], says: str) -> None:
    code, text = run(*(a.format(data=data) for a in arguments))
    assert code == 1 and says in text and "Traceback" not in text


def test_a_newer_or_busy_shop_file_ends_the_command_line_politely(data: Path, tmp_path: Path) -> None:
    log = str(data / "tower-cleaned-before.csv")
    shop = newer_shop(tmp_path)
    kept = shop.read_bytes()
    code, text = run("import-log", log, "--keep", str(shop))
    assert code == 1 and "newer Brachium" in text and shop.read_bytes() == kept
    code, text = run("open", str(shop))
    assert code == 1
    busy = Database(tmp_path / "busy.db")
    code, text = run("import-log", log, "--keep", str(busy.path))
    busy.close()
    assert code == 1 and "another Brachium has this file open" in text


def test_without_a_display_the_window_says_so(tmp_path: Path) -> None:
    bare = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    done = subprocess.run(
        [sys.executable, "-m", "brachium", "demo", "--out", str(tmp_path)], capture_output=True, text=True, env=bare
    )
    assert done.returncode == 1 and "no display" in done.stderr and "--headless" in done.stderr


def test_start_is_light() -> None:
    """Nothing heavy is imported before it is needed."""
    script = (
        "import sys, brachium.cli, brachium.ui.shell.window, brachium.app.shop.open_shop;"
        f"print([m for m in {HEAVY!r} if m in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


@pytest.mark.parametrize("words", [[], ["window"]])
def test_the_window_alone_loads_no_command(words: list[str]) -> None:
    script = (
        f"import sys; sys.argv = ['brachium', *{words!r}]; import brachium.cli, brachium.cli.start as start\n"
        "start.open_window = lambda place: print(place.name, 'typer' in sys.modules) or 3\n"
        "brachium.cli.main()"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert (done.stdout.strip(), done.returncode) == ("shop.db False", 3), done.stderr


def test_core_needs_no_qt() -> None:
    """Every core module imports with PySide6 not importable."""
    script = (
        "import sys, pkgutil, importlib; sys.modules['PySide6'] = None\n"
        "import brachium.core\n"
        "names = [m.name for m in pkgutil.walk_packages(brachium.core.__path__, 'brachium.core.')]\n"
        "[importlib.import_module(n) for n in names]; print(len(names))"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert int(done.stdout) > 40


def _small_files() -> None:
    resource.setrlimit(resource.RLIMIT_FSIZE, (150_000, 150_000))


def test_a_disk_that_takes_no_more_is_said_in_a_sentence(tmp_path: Path, data: Path) -> None:
    done = subprocess.run(
        [sys.executable, "-m", "brachium", "demo", "--headless", "--out", str(tmp_path)], capture_output=True,
        text=True, preexec_fn=_small_files,
    )  # fmt: skip
    assert done.returncode == 1
    assert "Traceback" not in done.stderr
    assert f"{tmp_path}/demo-shop.db" in done.stderr, "the shop's own failure is told, not a later one"


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda t: t[: len(t) // 40], "data lines"),
        (lambda t: t.replace("temp_c", "temp_k"), "cannot be a chip temperature"),
        (lambda t: "\n".join([*t.splitlines()[:300], *t.splitlines()[100:]]), "runs backwards"),
        (lambda t: "\n".join(t.splitlines()[:100]), "no load phase"),
        (lambda t: t.replace(",", " "), "no heading line"),
    ],
    ids=["truncated", "wrong unit", "time backwards", "no load", "no separator"],
)
def test_a_damaged_log_ends_with_one_and_the_shop_is_untouched(
    data: Path, tmp_path: Path, change: Callable[[str], str], says: str
) -> None:
    shop = tmp_path / "shop.db"
    assert run("import-log", str(data / "tower-cleaned-before.csv"), "--keep", str(shop))[0] == 0
    kept = shop.read_bytes()
    log = tmp_path / "damaged-after.csv"
    whole = (data / "laptop-repaste-after.csv").read_text()
    log.write_text(change(whole)[:200] if says == "data lines" else change(whole))
    code, text = run("import-log", str(log), "--keep", str(shop))
    assert code == 1 and says in text and "damaged-after.csv" in text
    assert shop.read_bytes() == kept
