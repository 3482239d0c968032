"""Writes a sample of every stored document in today's version into tests/data/documents, every field of it filled.

Run `make samples` once after a new version was made; a sample that is there already is never written again.
"""

from __future__ import annotations

import io
import types
from collections.abc import Callable, Mapping, Sequence
from dataclasses import fields, is_dataclass, replace
from datetime import datetime
from decimal import Decimal
from enum import Enum
from pathlib import Path
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from PIL import Image

from brachium.core.base.arrays import frozen
from brachium.core.measure.run import Run, Series, Trace
from brachium.core.record.job import Job, Photo
from brachium.core.record.shop_settings import ShopSettings
from brachium.core.record.systems import SYSTEMS
from brachium.demo.donors import demo_shelf
from brachium.demo.shop import demo_catalogue
from brachium.formats import job_archive, run_file
from brachium.formats.documents import VERSION
from brachium.formats.job_archive import ArchivedRun, write_archive
from brachium.formats.photo import kept_or_scaled
from brachium.formats.records import JOB, RUN, RunDocument, run_of
from brachium.formats.run_file import write_run_file
from brachium.formats.shop_documents import EVERY, PRICE_LIST, REFERENCE_TABLE, SETTINGS, SHELF, SYSTEM_TABLE, Codec
from brachium_probe.journal import FORMAT_VERSION, JournalWriter

FOLDER = Path(__file__).parents[1] / "tests" / "data" / "documents"
PLAIN: dict[Any, object] = {
    str: "some text", int: 2, float: 1.5, bool: True, Decimal: Decimal("1.25"), datetime: datetime(2026, 11, 25, 9, 20),
}  # fmt: skip


def filled(kind: Any) -> Any:
    """A value of a type with every field filled; of a union the first kind, of a list one of each."""
    if kind in PLAIN:
        return PLAIN[kind]
    origin, inner = get_origin(kind), get_args(kind)
    if origin in (Union, types.UnionType):
        return filled(next(k for k in inner if k is not type(None)))
    if origin is Literal:
        return inner[0]
    if origin in (tuple, Sequence):
        kinds = inner[:1] if inner[-1] is Ellipsis else inner
        return tuple(v for k in kinds for v in (_each(k) if inner[-1] is Ellipsis else [filled(k)]))
    if origin is not None and isinstance(origin, type) and issubclass(origin, Mapping):
        return {filled(inner[0]): filled(inner[1])}
    if isinstance(kind, type) and issubclass(kind, Enum):
        return list(kind)[-1]
    if is_dataclass(kind):
        hints = get_type_hints(kind)
        return kind(**{f.name: filled(hints[f.name]) for f in fields(kind) if f.init})  # type: ignore[operator]
    raise TypeError(f"no sample of {kind!r}")


def _each(kind: Any) -> list[Any]:
    if get_origin(kind) in (Union, types.UnionType):
        return [filled(k) for k in get_args(kind) if k is not type(None)]
    return [filled(kind)]


def stem(codec: Codec[Any]) -> str:
    """The name of a document's samples."""
    return codec.noun.replace(" ", "-")


def sample_run() -> Run:
    """A run with every field filled and two samples of one series."""
    document: RunDocument = filled(RunDocument)
    trace = Trace(frozen([0.0, 1.0]), (Series("temp_c", "°C", "chip", frozen([40.0, 41.0])),), ())
    return replace(run_of(document, {s.number: trace for s in document.sessions}), id="sample-before-1")


def sample_job() -> tuple[Job, dict[str, bytes]]:
    """A job with every field filled, and its picture."""
    out = io.BytesIO()
    Image.new("RGB", (8, 6), (20, 90, 90)).save(out, "JPEG")
    made = kept_or_scaled(out.getvalue(), "sample")
    job: Job = replace(filled(Job), id="sample", photos=(Photo(made.id, made.width, made.height, "lid", "2026-11-25"),))
    return job, {made.id: made.data}


def texts() -> dict[str, str]:
    """Today's sample of every document in the shop file, by the name of its file."""
    job, _ = sample_job()
    own: dict[str, Any] = {
        PRICE_LIST.key: demo_catalogue(), REFERENCE_TABLE.key: "hardware,test,value\nInvented 100,cpu_all,3.5\n",
        SYSTEM_TABLE.key: SYSTEMS, SHELF.key: demo_shelf(), SETTINGS.key: filled(ShopSettings),
    }  # fmt: skip
    out = {f"job-{JOB.version}.json": JOB.text(job), f"run-{RUN.version}.json": RUN.text(filled(RunDocument))}
    for what in EVERY:
        value = own[what.key] if what.key in own else filled(KINDS[what.key])
        text = what.codec.text(value)
        out[f"{stem(what.codec)}-{what.codec.version}.{'json' if text.startswith('{') else 'csv'}"] = text
    return out


def files() -> dict[str, Callable[[Path], object]]:
    """What writes today's sample of every file format, by the name of the file."""
    run, (job, photos) = sample_run(), sample_job()

    def journal(path: Path) -> None:
        head: dict[str, Any] = {VERSION: RUN.version, **RUN.plain(filled(RunDocument))}
        writer = JournalWriter(str(path), head, [("temp_c", "°C", "chip")], 0.0)
        writer.begin(1, "some text")
        writer.enter("load", 0.0)
        writer.sample(0.0, [40.0])
        writer.sample(1.0, [41.0])
        writer.phase("load", 0.0, 1.0)
        writer.repeat("cpu_all", 1.5, True, "")
        writer.check("errors", "Errors", True, "none")
        writer.end(True, ["some text"])

    return {
        f"run-file-{run_file.VERSION}.{RUN.version}.json": lambda p: write_run_file(run, p),
        f"job-archive-{job_archive.VERSION}.{JOB.version}.zip":
            lambda p: write_archive(job, [ArchivedRun("before", run)], p, photos),
        f"journal-{FORMAT_VERSION}.{RUN.version}.jsonl": journal,
    }  # fmt: skip


KINDS: dict[str, Any] = {
    what.key: what.codec.kind for what in EVERY if hasattr(what.codec, "kind")
}  # fmt: skip


def main() -> None:
    """Write what is not there yet."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name, text in texts().items():
        if not (FOLDER / name).exists():
            (FOLDER / name).write_text(text)
            print(name)
    for name, write in files().items():
        if not (FOLDER / name).exists():
            write(FOLDER / name)
            print(name)


if __name__ == "__main__":
    main()
