"""Documents of every version ever written are read; today's shape of each is the one that its version stands for."""

from __future__ import annotations

import json
from datetime import datetime
from decimal import Decimal
from pathlib import Path

import pytest

from brachium.core.base.problems import ExpectedProblem
from brachium.core.record.money import Tax
from brachium.core.record.shop_settings import ShopSettings
from brachium.formats import job_archive, run_file
from brachium.formats.documents import VERSION, Document
from brachium.formats.job_archive import read_archive
from brachium.formats.log_columns import Reading
from brachium.formats.records import JOB, RUN
from brachium.formats.run_file import read_run_file
from brachium.formats.shop_documents import DRAWN, EVERY, FIXED_BLOCKS, LOG_PRESETS, SETTINGS, Codec
from brachium_probe.journal import FORMAT_VERSION
from scripts.keep_samples import FOLDER, stem, texts

STORED: tuple[Codec[object], ...] = (JOB, RUN, *(what.codec for what in EVERY))
HOW = "its shape changed: make a new version of it, see docs/how-to/change-the-record.md"


def sample(codec: Codec[object], version: int) -> Path:
    found = list(FOLDER.glob(f"{stem(codec)}-{version}.*"))
    assert len(found) == 1, f"tests/data/documents has no sample of {codec.noun}, version {version}: make samples"
    return found[0]


@pytest.mark.parametrize("codec", STORED, ids=stem)
def test_every_version_ever_written_is_read(codec: Codec[object]) -> None:
    for version in range(1, codec.version + 1):
        path = sample(codec, version)
        record = codec.read(path.read_text(), path.name)
        assert codec.read(codec.text(record), "again") == record
    newest = sample(codec, codec.version).read_text()
    assert codec.text(codec.read(newest, codec.noun)) == newest, HOW
    assert texts()[sample(codec, codec.version).name] == newest, HOW


@pytest.mark.parametrize("codec", STORED, ids=stem)
def test_a_newer_version_is_refused_and_one_without_is_the_first(codec: Codec[object]) -> None:
    newest = sample(codec, codec.version).read_text()
    newer = newest.replace(f'"{VERSION}":{codec.version}', f'"{VERSION}":{codec.version + 1}', 1)
    newer = newer.replace(f"{VERSION},{codec.version}\n", f"{VERSION},{codec.version + 1}\n", 1)
    with pytest.raises(ExpectedProblem, match="written by a newer Brachium"):
        codec.read(newer, "here")
    first = sample(codec, 1).read_text()
    bare = first.replace(f'"{VERSION}":1,', "", 1).removeprefix(f"{VERSION},1\n")
    bare = json.dumps(json.loads(bare)["items"]) if bare.startswith('{"items"') else bare
    assert codec.read(bare, "here") == codec.read(first, "here")


def test_files_of_every_version_are_read() -> None:
    names = {p.name for p in FOLDER.iterdir()}
    for k in range(1, RUN.version + 1):
        assert {f"run-file-{run_file.VERSION}.{k}.json", f"journal-{FORMAT_VERSION}.{k}.jsonl"} <= names, "make samples"
    for k in range(1, JOB.version + 1):
        assert f"job-archive-{job_archive.VERSION}.{k}.zip" in names, "make samples"
    for path in FOLDER.glob("run-file-*.json"):
        read = read_run_file(path)
        assert read.damaged == () and read.run.sessions[0].trace.values("temp_c").tolist() == [40.0, 41.0]  # type: ignore[union-attr]
        assert read.run.checks and read.run.notes and read.run.conditions.room_c == 1.5
    for path in FOLDER.glob("journal-*.jsonl"):
        run = read_run_file(path).run
        assert run.conditions.room_c == 1.5 and run.complete and run.sessions[0].repeats and run.checks
    for path in FOLDER.glob("job-archive-*.zip"):
        archive = read_archive(path)
        assert archive.damaged == () and len(archive.runs) == 1 and len(archive.photos) == 1
        assert archive.job.goal == "some text" and archive.job.pads and archive.job.erasures and archive.job.own_use


def test_the_first_settings_and_mappings_come_through_with_every_value() -> None:
    read = {what.key: what.codec.read(sample(what.codec, 1).read_text(), what.key)
            for what in (SETTINGS, DRAWN, FIXED_BLOCKS, LOG_PRESETS)}  # fmt: skip
    assert read[SETTINGS.key] == ShopSettings(
        "08:00-12:00", 3, 4, 0.9, 0.2, Tax(Decimal("0.19"), False), 0.002,
        {"USD": Decimal("0.92"), "GBP": Decimal("1.17")}, "2026-11-25", False, "de", "USD", "/media/stick", True,
    )  # fmt: skip
    assert read[DRAWN.key].by_job == {"newsroom-laptop": {"paste": 0.4, "wipes": 3.0}}  # type: ignore[attr-defined]
    assert read[FIXED_BLOCKS.key].moments == {"newsroom-laptop/open": datetime(2026, 11, 25, 10, 5)}  # type: ignore[attr-defined]
    assert read[LOG_PRESETS.key].by_heading == {"zeit|a|b": Reading({"temp": "f"}, {"temp": "A"})}  # type: ignore[attr-defined]
    bad = SETTINGS.codec.read('{"technicians": "many", "tax_rate": "nan", "exchange_rates": "USD|x"}', "settings")
    assert bad == ShopSettings(rates_day="x"), "what could not be read then counts as not set"


def test_upgrades_go_one_after_the_other_and_name_what_does_not_fit() -> None:
    def second(plain: dict[str, object]) -> dict[str, object]:
        return {"opening_hours": plain["hours"]}

    def third(plain: dict[str, object]) -> dict[str, object]:
        return {"opening_hours": f"{plain['opening_hours']}!"}

    document: Document[ShopSettings] = Document(ShopSettings, "settings", (second, third))
    assert document.version == 3 and json.loads(document.text(ShopSettings()))[VERSION] == 3
    assert document.read('{"hours": "9-5"}', "x").opening_hours == "9-5!"
    assert document.read('{"document_version": 2, "opening_hours": "9-5"}', "x").opening_hours == "9-5!"
    assert document.read('{"document_version": 3, "opening_hours": "9-5"}', "x").opening_hours == "9-5"
    with pytest.raises(ExpectedProblem, match="no settings of version 1"):
        document.read('{"opening_hours": "9-5"}', "x")
    assert document.plain(ShopSettings())[VERSION] == 3, "a run in a file says its version too"


def test_a_look_that_became_part_of_a_wider_one_keeps_what_it_said() -> None:
    plain = json.loads((FOLDER / "job-6.json").read_text())
    look = {"check": "busy_names", "minutes": 2.0, "when": "2026-11-30 10:00", "note": "indexer"}
    answers = ("an update or index", "the owner's own")
    plain["checks"] = [{**look, "answer": answer} for answer in answers]
    read = JOB.take(plain, "x").checks
    assert [(c.check, c.answer) for c in read] == [("read_system", answers[0]), ("busy_names", answers[1])]
    assert read[0].note == "indexer", "the other says less than the wider look asks, and stays as it was noted"
