"""Shop files of every version that was ever given out open with nothing lost."""

from __future__ import annotations

import json
import lzma
import sqlite3
from contextlib import closing
from dataclasses import replace
from decimal import Decimal
from pathlib import Path

import pytest

from brachium.app.shop.kept import keep_settings, settings_of
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.shop_record import outcomes_of
from brachium.formats.documents import VERSION
from brachium.formats.records import job_to_json
from brachium.formats.upgrades.words import in_plain_words

KEPT = Path(__file__).parents[1] / "data" / "shops"


def missing(old: object, new: object, path: str = "") -> list[str]:
    """What the old document says and the new one does not, by path."""
    if isinstance(old, dict):
        assert isinstance(new, dict), path
        return [m for k, v in old.items() for m in (missing(v, new[k], f"{path}.{k}") if k in new else [f"{path}.{k}"])]
    if isinstance(old, list):
        assert isinstance(new, list) and len(old) == len(new), path
        return [m for a, b in zip(old, new, strict=True) for m in missing(a, b, path)]
    return [] if new in (old, in_plain_words(old)) else [f"{path}: {old!r} became {new!r}"]


@pytest.mark.parametrize("kept", sorted(KEPT.glob("*.xz")), ids=lambda p: p.name)
def test_a_kept_shop_opens_with_nothing_lost(tmp_path: Path, kept: Path) -> None:
    path = tmp_path / "shop.db"
    path.write_bytes(lzma.decompress(kept.read_bytes()))
    with closing(sqlite3.connect(path)) as c:
        documents = dict(c.execute("select id, document from job").fetchall())
        runs = dict(c.execute("select job_id, count(*) from run group by job_id").fetchall())
        samples = c.execute("select sum(samples) from series").fetchone()[0]
    workspace = open_shop(path)
    assert len(documents) == len(workspace.job_ids()) == 8 and sum(runs.values()) == 7
    seen = 0
    for job_id, document in documents.items():
        new = json.loads(job_to_json(workspace.job(job_id)))
        assert missing({k: v for k, v in json.loads(document).items() if k != VERSION}, new) == [], job_id
        assert len(workspace.all_runs(job_id)) == runs.get(job_id, 0)
        seen += sum(s.trace.time_s.size * (1 + len(s.trace.series)) for r in workspace.all_runs(job_id)
                    for s in r.run.sessions)  # fmt: skip
    assert seen == samples, "every sample of every run"
    assert len(workspace.shelf_parts) == 3 and len(outcomes_of(workspace)) == 17
    view = workspace.compute_now("newsroom-laptop")
    assert view.proof.comparison is not None and not view.proof.comparison.refusal
    workspace.close()


def test_settings_of_the_fourth_version_are_one_record_afterwards(tmp_path: Path) -> None:
    path = tmp_path / "shop.db"
    path.write_bytes(lzma.decompress((KEPT / "version-0004.db.xz").read_bytes()))
    with closing(sqlite3.connect(path)) as c:
        c.executemany("insert into setting values (?, ?)", (("technicians", "3"), ("tax_rate", "0.19")))
        c.commit()
    workspace = open_shop(path)
    settings = settings_of(workspace)
    assert (settings.technicians, settings.tax.rate, settings.demo_filled) == (3, Decimal("0.19"), True)
    keep_settings(workspace, technicians=None)
    workspace.close()
    with closing(sqlite3.connect(path)) as c:
        keys = {k for (k,) in c.execute("select key from setting")}
        assert "settings" in keys and not keys & {"technicians", "tax_rate", "demo_shop"}
    workspace = open_shop(path)
    assert settings_of(workspace) == replace(settings, technicians=1)
    workspace.close()
