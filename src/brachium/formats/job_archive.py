"""Job archives: one zip with a manifest and checksums, the job's record, and its runs as JSON with CSV traces.

Format: docs/formats/job-archive.md. Every part can be read with any zip, JSON and CSV program.
"""

from __future__ import annotations

import io
import json
import struct
import zipfile
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from types import MappingProxyType

from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.text import phrase
from brachium.core.measure.run import Run
from brachium.core.record.job import Job, Photo
from brachium.formats.atomic import write_atomically
from brachium.formats.ids import LONGEST_RUN_ID, ROLES, id_problem
from brachium.formats.limits import MIB, foreign, read_bytes
from brachium.formats.photo import kept_or_scaled
from brachium.formats.records import check_document, job_from_json, job_to_json
from brachium.formats.run_file import run_from_text, run_to_parts, sha256

FORMAT = "brachium-job"
VERSION = 1
MANIFEST, JOB = "manifest.json", "job.json"
MAX_ARCHIVE_BYTES, MAX_PART_BYTES, MAX_TOTAL_BYTES = 256 * MIB, 24 * MIB, 128 * MIB
MAX_PARTS, MAX_RUNS = 4_000, 500
EPOCH = (1980, 1, 1, 0, 0, 0)


class StoppedReading(ExpectedProblem):
    """A person stopped it; nothing of it counts."""


@dataclass(frozen=True)
class ArchivedRun:
    """A run with the role (before, after) it plays in its job."""

    role: str
    run: Run


@dataclass(frozen=True)
class ReadArchive:
    """What an archive holds. `damaged` names every part that could not be taken, in words; the rest is whole."""

    job: Job
    runs: tuple[ArchivedRun, ...]
    damaged: tuple[str, ...]
    photos: Mapping[str, bytes] = field(default_factory=dict)


def photo_part(photo_id: str) -> str:
    """The name of a picture in an archive."""
    return f"photos/{photo_id}.jpg"


def write_archive(
    job: Job, runs: Sequence[ArchivedRun], path: Path, photos: Mapping[str, bytes] = MappingProxyType({})
) -> None:
    """Write the archive. Raises EnvironmentProblem; an old file stays until the new one is whole."""
    parts: dict[str, bytes] = {JOB: job_to_json(job).encode()}
    parts |= {photo_part(p.id): photos[p.id] for p in job.photos if photos.get(p.id)}
    listed = []
    for number, archived in enumerate(runs, 1):
        stem = f"run-{number:02}-{archived.role.replace(' ', '-')}"
        parts |= {f"runs/{name}": data for name, data in run_to_parts(archived.run, stem).items()}
        listed.append({"role": archived.role, "file": f"runs/{stem}.json"})
    manifest = {
        "format": FORMAT, "version": VERSION, "job": JOB, "runs": listed,
        "files": {name: {"sha256": sha256(data), "bytes": len(data)} for name, data in parts.items()},
    }  # fmt: skip
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in {MANIFEST: json.dumps(manifest, indent=1).encode(), **parts}.items():
            archive.writestr(zipfile.ZipInfo(name, EPOCH), data, zipfile.ZIP_DEFLATED)
    write_atomically(path, out.getvalue())


# What the standard library raises on a damaged container; the last stands for locked parts and unknown packing.
UNREADABLE = (zipfile.BadZipFile, zlib.error, EOFError, ValueError, struct.error, RuntimeError)


def read_archive(path: Path, cancelled: Callable[[], bool] = lambda: False) -> ReadArchive:
    """Read an archive; `cancelled` is asked before every part.

    Raises ExpectedProblem where its manifest or record is gone, damaged, or of a newer version; StoppedReading.
    """
    data = read_bytes(path, MAX_ARCHIVE_BYTES)
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive, foreign(str(path), "job archive"):
            return _Reader(path, archive, cancelled).read()
    except UNREADABLE as error:
        raise ExpectedProblem("this is no job archive, or it is cut short", str(path),
                              "Copy the file again.") from error  # fmt: skip


class _Reader:
    """Reads part by part, so that one broken part does not take the others with it."""

    def __init__(self, path: Path, archive: zipfile.ZipFile, cancelled: Callable[[], bool]) -> None:
        self._path, self._archive, self._cancelled = path, archive, cancelled
        self._files: dict[str, object] = {}
        self._damaged: list[str] = []
        self._left = MAX_TOTAL_BYTES
        self._taken: set[str] = set()

    def read(self) -> ReadArchive:
        if len(self._archive.infolist()) > MAX_PARTS:
            raise ExpectedProblem(
                phrase("more than {max_parts} parts", max_parts=MAX_PARTS), str(self._path), "Use the original file."
            )
        manifest = check_document(self._raw(MANIFEST).decode("utf-8", "replace"), f"{self._path}, {MANIFEST}", FORMAT,
                                  VERSION, "job")  # fmt: skip
        files = manifest.get("files")
        self._files = files if isinstance(files, dict) else {}
        job = job_from_json(self._part(JOB).decode(), f"{self._path}, {JOB}")
        problem = id_problem(job.id)
        if problem:
            raise ExpectedProblem(
                phrase("the id of its job {problem}", problem=problem),
                phrase("{path}, {job}", path=self._path, job=JOB),
                "Use the original file.",
            )
        listed = manifest.get("runs")
        entries = [e for e in (listed if isinstance(listed, list) else []) if isinstance(e, dict)]
        if len(entries) > MAX_RUNS:
            raise ExpectedProblem(
                phrase("more than {max_runs} runs", max_runs=MAX_RUNS), str(self._path), "Use the original file."
            )
        runs = [self._run(e) for e in entries]
        kept = [p for p in map(self._photo, job.photos) if p is not None]
        job = replace(job, photos=tuple(photo for photo, _ in kept))
        return ReadArchive(
            job, tuple(r for r in runs if r is not None), tuple(self._damaged), {p.id: data for p, data in kept}
        )

    def _photo(self, photo: Photo) -> tuple[Photo, bytes] | None:
        """A picture, looked at like any that is taken in, under the id of its content."""
        name = photo_part(photo.id)
        try:
            made = kept_or_scaled(self._part(name), f"{self._path}, {name}")
        except StoppedReading:
            raise
        except Problem as problem:
            self._damaged.append(f"{name} is left out: {problem.what}")
            return None
        return replace(photo, id=made.id, width=made.width, height=made.height), made.data

    def _run(self, entry: dict[str, object]) -> ArchivedRun | None:
        name, role = entry.get("file", ""), entry.get("role", "before")
        if not isinstance(name, str) or role not in ROLES:
            self._damaged.append(f"a run is left out: {str(role)[:40]!r} is no role, or its file is not named")
            return None
        try:
            read = run_from_text(self._part(name).decode(), name, lambda beside: self._part(f"runs/{beside}"))
        except StoppedReading:
            raise
        except Problem as problem:
            self._damaged.append(f"{name} is left out: {problem.what}")
            return None
        self._damaged += [f"{name}, {text}" for text in read.damaged]
        problem_of_id = id_problem(read.run.id, LONGEST_RUN_ID)
        if problem_of_id:
            self._damaged.append(f"{name} is left out: the id of its run {problem_of_id}")
            return None
        return ArchivedRun(str(role), read.run)

    def _part(self, name: str) -> bytes:
        """A part that matches its checksum, each read once. Raises ExpectedProblem."""
        if name in self._taken:
            raise ExpectedProblem(
                "two entries name this part",
                phrase("{path}, {name}", path=self._path, name=name),
                "Use the original file.",
            )
        self._taken.add(name)
        data = self._raw(name)
        listed = self._files.get(name)
        if not isinstance(listed, dict) or sha256(data) != listed.get("sha256"):
            raise ExpectedProblem(
                "its checksum differs from the manifest's",
                phrase("{path}, {name}", path=self._path, name=name),
                "Use the original file.",
            )
        return data

    def _raw(self, name: str) -> bytes:
        place = f"{self._path}, {name}"
        if self._cancelled():
            raise StoppedReading("the reading was stopped", str(self._path), "Nothing was taken in.")
        try:
            if self._archive.getinfo(name).file_size > min(MAX_PART_BYTES, self._left):
                raise ExpectedProblem("this part, or all of them together, is larger than any job", place,
                                      "Use the original file.")  # fmt: skip
            data = self._archive.read(name)
            self._left -= len(data)
            return data
        except KeyError as error:
            raise ExpectedProblem("this part is missing", place, "Use the original file.") from error
        except UNREADABLE as error:
            raise ExpectedProblem(
                phrase("this part is damaged ({error})", error=error), place, "Use the original file."
            ) from error
