"""Job archives: one zip with a manifest and checksums, the job's record, and its runs as JSON with CSV traces.

Format: docs/formats/job-archive.md. Every part can be read with any zip, JSON and CSV program.
"""

from __future__ import annotations

import io
import json
import struct
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from types import MappingProxyType

from brachium.core.job.job import Job
from brachium.core.measure.run import Run
from brachium.core.problems import ExpectedProblem, Problem, from_os_error
from brachium.formats.atomic import write_atomically
from brachium.formats.records import check_document, job_from_json, job_to_json
from brachium.formats.run_file import run_from_text, run_to_parts, sha256

FORMAT = "brachium-job"
VERSION = 1
MANIFEST, JOB = "manifest.json", "job.json"
MAX_PART_BYTES = 512 << 20
EPOCH = (1980, 1, 1, 0, 0, 0)


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
        stem = f"run-{number:02}-{archived.role}"
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


def read_archive(path: Path) -> ReadArchive:
    """Read an archive. Raises ExpectedProblem where its manifest or record is gone, damaged, or of a newer version."""
    try:
        with zipfile.ZipFile(path) as archive:
            return _Reader(path, archive).read()
    except OSError as error:
        raise from_os_error(error, str(path)) from error
    except UNREADABLE as error:
        raise ExpectedProblem("this is no job archive, or it is cut short", str(path),
                              "Copy the file again.") from error  # fmt: skip


class _Reader:
    """Reads part by part, so that one broken part does not take the others with it."""

    def __init__(self, path: Path, archive: zipfile.ZipFile) -> None:
        self._path, self._archive = path, archive
        self._files: dict[str, dict[str, object]] = {}
        self._damaged: list[str] = []

    def read(self) -> ReadArchive:
        manifest = check_document(self._raw(MANIFEST).decode("utf-8", "replace"), f"{self._path}, {MANIFEST}", FORMAT,
                                  VERSION, "job")  # fmt: skip
        files = manifest.get("files")
        self._files = files if isinstance(files, dict) else {}
        job = job_from_json(self._part(JOB).decode(), f"{self._path}, {JOB}")
        listed = manifest.get("runs")
        runs = [self._run(e) for e in (listed if isinstance(listed, list) else []) if isinstance(e, dict)]
        photos = {p.id: data for p in job.photos if (data := self._photo(p.id)) is not None}
        return ReadArchive(job, tuple(r for r in runs if r is not None), tuple(self._damaged), photos)

    def _photo(self, photo_id: str) -> bytes | None:
        name = photo_part(photo_id)
        try:
            return self._part(name)
        except Problem as problem:
            self._damaged.append(f"{name} is left out: {problem.what}")
            return None

    def _run(self, entry: dict[str, str]) -> ArchivedRun | None:
        name = entry.get("file", "")
        try:
            read = run_from_text(self._part(name).decode(), name, lambda beside: self._part(f"runs/{beside}"))
        except Problem as problem:
            self._damaged.append(f"{name} is left out: {problem.what}")
            return None
        self._damaged += [f"{name}, {text}" for text in read.damaged]
        return ArchivedRun(entry.get("role", "before"), read.run)

    def _part(self, name: str) -> bytes:
        """A part that matches its checksum. Raises ExpectedProblem."""
        data = self._raw(name)
        if sha256(data) != self._files.get(name, {}).get("sha256"):
            raise ExpectedProblem("its checksum differs from the manifest's", f"{self._path}, {name}",
                                  "Use the original file.")  # fmt: skip
        return data

    def _raw(self, name: str) -> bytes:
        place = f"{self._path}, {name}"
        try:
            if self._archive.getinfo(name).file_size > MAX_PART_BYTES:
                raise ExpectedProblem("this part is larger than any run can be", place, "Use the original file.")
            return self._archive.read(name)
        except KeyError as error:
            raise ExpectedProblem("this part is missing", place, "Use the original file.") from error
        except UNREADABLE as error:
            raise ExpectedProblem(f"this part is damaged ({error})", place, "Use the original file.") from error
