"""Sleep held off while measuring: by a stand-in of the login manager's tool that notes what it was asked."""

from __future__ import annotations

import subprocess
import sys
import textwrap
from pathlib import Path

import pytest

from brachium.devices.live.stay_awake import HELD, stay_awake


def tool(folder: Path, body: str, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A systemd-inhibit of our own, first on the path."""
    path = folder / "systemd-inhibit"
    path.write_text(f"#!/bin/sh\n{body}\n")
    path.chmod(0o755)
    monkeypatch.setenv("PATH", f"{folder}:/usr/bin:/bin")
    return folder / "asked"


def alive(pid: int) -> bool:
    return Path(f"/proc/{pid}/stat").exists() and " Z " not in Path(f"/proc/{pid}/stat").read_text()


def test_sleep_is_held_off_inside_and_given_up_after(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    asked = tool(tmp_path, f'echo "$$ $@" > {tmp_path}/asked; for last; do :; done; exec "$last"', monkeypatch)
    with stay_awake("measuring: as taken in") as held:
        pid, *words = asked.read_text().split()
        assert held and alive(int(pid)) and f"--what={HELD}" in words and "--mode=block" in words
    assert not alive(int(pid))
    with pytest.raises(ZeroDivisionError), stay_awake("a run that fails"):
        pid = asked.read_text().split()[0]
        assert 1 / 0
    assert not alive(int(pid)), "a run that fails gives it up too"


def test_it_ends_with_a_program_that_is_killed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    asked = tool(tmp_path, f'echo "$$ $@" > {tmp_path}/asked; for last; do :; done; exec "$last"', monkeypatch)
    code = textwrap.dedent("""
        import os, signal
        from brachium.devices.live.stay_awake import stay_awake
        with stay_awake("to be killed"):
            os.kill(os.getpid(), signal.SIGKILL)
    """)
    subprocess.run([sys.executable, "-c", code], check=False, timeout=60)
    pid = int(asked.read_text().split()[0])
    for _ in range(100):
        if not alive(pid):
            return
        subprocess.run(["/bin/sleep", "0.05"], check=True)
    pytest.fail("the holder outlives the program")


@pytest.mark.parametrize("body", ["exit 1", ""])
def test_a_run_goes_on_where_sleep_cannot_be_held_off(
    tmp_path: Path, body: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    if body:
        tool(tmp_path, body, monkeypatch)
    else:
        monkeypatch.setenv("PATH", str(tmp_path))
    with stay_awake("measuring") as held:
        assert not held
