"""`make install` into a folder of its own: started from there, known to the desktop, gone again without a trace."""

from __future__ import annotations

import os
import subprocess
import xml.etree.ElementTree as ET
from configparser import ConfigParser
from pathlib import Path

import pytest

from scripts.icons import SIZES
from scripts.manual import OUT, manual

ROOT = Path(__file__).parents[1]
ID = "org.brachium.Brachium"


def script(prefix: Path, *words: str) -> str:
    done = subprocess.run(["bash", "scripts/install.sh", *words], cwd=ROOT, env={**os.environ, "PREFIX": str(prefix)},
                          capture_output=True, text=True, timeout=600, check=False)  # fmt: skip
    assert done.returncode == 0, done.stderr
    return done.stdout


@pytest.fixture(scope="module")
def prefix(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("own home") / ".local"
    script(folder)
    return folder


def ask(prefix: Path, *words: str, **more: str) -> str:
    """What the installed program answers, without the checkout on its path."""
    plain = {k: v for k, v in os.environ.items() if k not in ("PYTHONPATH", "VIRTUAL_ENV")}
    done = subprocess.run([str(prefix / "bin/brachium"), *words], cwd="/", env={**plain, **more},
                          capture_output=True, text=True, timeout=120, check=False)  # fmt: skip
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_the_installed_program_answers_and_completes_words(prefix: Path) -> None:
    assert "SO-DIMM" in ask(prefix, "label", "4GB 1Rx8 PC3L-12800S")
    command = [str(prefix / "lib/brachium/venv/bin/python"), "-c", "import brachium; print(brachium.__file__)"]
    where = subprocess.run(command, cwd="/", capture_output=True, text=True, check=True).stdout
    assert where.startswith(str(prefix)), "not the checkout's"
    assert "measure" in ask(prefix, COMP_WORDS="brachium me", COMP_CWORD="1", _BRACHIUM_COMPLETE="complete_bash")
    assert "_BRACHIUM_COMPLETE" in (prefix / "share/bash-completion/completions/brachium").read_text()
    probe = subprocess.run(
        [str(prefix / "bin/brachium-probe"), "--version"], capture_output=True, text=True, check=True
    )
    assert "brachium-probe" in probe.stdout


def test_the_desktop_knows_program_files_and_icon(prefix: Path) -> None:
    share = prefix / "share"
    entry = ConfigParser(interpolation=None, strict=True)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(share / f"applications/{ID}.desktop")
    own = entry["Desktop Entry"]
    assert own["Exec"] == f"{prefix}/bin/brachium window %F" and own["Icon"] == ID and "Name" in own
    types = set(own["MimeType"].strip(";").split(";"))
    mime = ET.parse(share / f"mime/packages/{ID}.xml").getroot()
    space = "{http://www.freedesktop.org/standards/shared-mime-info}"
    assert {t.get("type") for t in mime.iter(f"{space}mime-type")} == types
    assert "*.brachium.zip" in {g.get("pattern") for g in mime.iter(f"{space}glob")}
    about = ET.parse(share / f"metainfo/{ID}.metainfo.xml").getroot()
    assert about.findtext("id") == ID and about.find("releases/release").get("version")[0].isdigit()  # type: ignore[union-attr,index]
    assert {m.text for m in about.iter("mediatype")} == types
    for size in SIZES:
        png = (share / f"icons/hicolor/{size}x{size}/apps/{ID}.png").read_bytes()
        assert png[:8] == b"\x89PNG\r\n\x1a\n" and int.from_bytes(png[16:20], "big") == size
    assert (share / f"icons/hicolor/scalable/apps/{ID}.svg").exists()


def test_the_manual_page_is_the_command_lines_own(prefix: Path) -> None:
    assert OUT.read_text() == manual() == (prefix / "share/man/man1/brachium.1").read_text(), "make manual"


def test_uninstalling_leaves_nothing_of_it(prefix: Path) -> None:
    assert "shops and settings are where they were" in script(prefix, "uninstall")
    left = [p for p in prefix.rglob("*") if p.is_file() and ("brachium" in p.name.lower())]
    assert [p for p in left if "mime/application" not in str(p)] == [] and not (prefix / "lib/brachium").exists()
