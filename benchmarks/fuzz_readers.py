"""Every reader of foreign bytes against files nobody meant: `python -m benchmarks.fuzz_readers [COUNT]`.

Half of the files are raw bytes or flipped ones, half are well formed with one thing wrong (mutations of real documents
and tables, which the readers' own writers never make). Each reader is tried in a child process with a limit of memory;
what is counted: anything raised that is no Problem, files over 2 s, the most memory a file took.
"""

from __future__ import annotations

import io
import json
import random
import resource
import subprocess
import sys
import tempfile
import time
import zipfile
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from brachium.core.base.problems import Problem

SEED, COUNT, SLOW_S, MEMORY_MB = 20261129, 5000, 2.0, 300
NASTY = (
    "", "1e400", "-1e400", "NaN", "inf", "9" * 5000, "1e999999999", "\ud800", "\x00", "=1+1", "../../x", "a" * 200_000,
    " " * 100_000, "\r", "\r\n", "'", '"', "[" * 5000, "-0", "0x10", "١٢", "2026-13-45", "99:99:99", "\u202e", "💥",
)  # fmt: skip
VALUES = (None, True, -1, 0, 1e308, 10**30, [], {}, [[]], {"a": []}, "x", "../x", "1e400", 2**63, -0.0, "💥")
Read = Callable[[Path], object]


@dataclass(frozen=True)
class Target:
    """A reader, the ending of its files, and good files to begin from."""

    read: Read
    suffix: str
    seeds: tuple[bytes, ...]


def targets(work: Path) -> Mapping[str, Target]:
    """Every reader by name."""
    from brachium.app.shop.price_list import read_text
    from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind
    from brachium.core.record.systems import SYSTEMS
    from brachium.demo.donors import demo_shelf
    from brachium.demo.newsroom import newsroom_job
    from brachium.demo.shop import demo_catalogue
    from brachium.formats.catalogue import catalogue_text, read_catalogue
    from brachium.formats.drive_counters import read_counters
    from brachium.formats.frame_log import read_frame_log
    from brachium.formats.job_archive import ArchivedRun, read_archive, write_archive
    from brachium.formats.limits import parse_json
    from brachium.formats.photo import read_photo
    from brachium.formats.records import job_from_json, job_to_json
    from brachium.formats.reference_table import parse_table
    from brachium.formats.run_file import read_run_file, run_to_file_text
    from brachium.formats.scan_plain import scan_from_plain
    from brachium.formats.sensor_log import read_sensor_log
    from brachium.formats.shop_documents import CLAIMS, SHELF
    from brachium.formats.shop_tables import systems_from_csv, systems_to_csv
    from brachium.store.backups import is_good
    from tests.support.some_runs import some_run

    run = some_run()
    archive = work / "seed.zip"
    write_archive(newsroom_job(), [ArchivedRun("before", run)], archive)
    log = b"time [s];chip temp [C];power [W];util [%]\n" + b"".join(
        b"%d;%d.5;%d;%d\n" % (t, 40 + min(t, 30), 5 + 20 * (10 < t < 80), 99 * (10 < t < 80)) for t in range(120)
    )
    journal = "\n".join([
        json.dumps({"kind": "head", "format": "brachium-journal", "version": 1, "run": {},
                    "channels": [["temp_c", "C", "chip"]]}, separators=(",", ":")),
        '{"kind":"session","number":1,"boot":"a"}', '{"kind":"enter","name":"idle","start_s":0}',
        *(f'{{"kind":"s","t":{t},"v":[{40 + t}]}}' for t in range(9)),
        '{"kind":"phase","name":"idle","start_s":0,"end_s":8}', '{"kind":"end","complete":true,"notes":[]}', "",
    ])  # fmt: skip
    whole = json.loads(run_to_file_text(run))
    journal = journal.replace('"run":{}', f'"run":{json.dumps(whole["run"])}')
    photo = io.BytesIO()
    from PIL import Image

    Image.effect_noise((90, 60), 40).convert("RGB").save(photo, "JPEG")

    def text(path: Path) -> str:
        return read_text(path)

    return {
        "run file": Target(read_run_file, ".json", (run_to_file_text(run).encode(),)),
        "run journal": Target(read_run_file, ".jsonl", (journal.encode(),)),
        "job archive": Target(read_archive, ".zip", (archive.read_bytes(),)),
        "job record": Target(
            lambda p: job_from_json(text(p), p.name), ".json", (job_to_json(newsroom_job()).encode(),)
        ),
        "sensor log": Target(read_sensor_log, ".csv", (log, log.replace(b";", b",").replace(b"\n", b"\r\n"))),
        "frame log": Target(read_frame_log, ".csv", (b"frame time [ms]\n" + b"16.7\n" * 900, b"16.7\n17.1\n" * 500)),
        "drive counters": Target(
            read_counters,
            ".txt",
            (
                b"reallocated,4\npending,0\n",
                b'{"pending": 3}',
                b"  5 Reallocated 100 100 010 - 12\n197 Pending 1 1 0 - 0\n",
            ),
        ),
        "price list": Target(
            lambda p: read_catalogue(text(p), p.name), ".csv", (catalogue_text(demo_catalogue()[:25]).encode(),)
        ),
        "systems": Target(lambda p: systems_from_csv(text(p), p.name), ".csv", (systems_to_csv(SYSTEMS).encode(),)),
        "evidence": Target(
            lambda p: CLAIMS.codec.read(text(p), p.name),
            ".json",
            (CLAIMS.codec.text((CompatibilityClaim("x", "y", (Source(SourceKind.OWN_JOB),)),)).encode(),),
        ),
        "shelf": Target(
            lambda p: SHELF.codec.read(text(p), p.name), ".json", (SHELF.codec.text(demo_shelf()).encode(),)
        ),
        "reference table": Target(
            lambda p: parse_table(text(p), p.name), ".csv", (b"hardware,test,value\nA,cpu_all,3\n",)
        ),
        "scan": Target(
            lambda p: scan_from_plain(parse_json(text(p), p.name), p.name),
            ".json",
            (b'{"version":1,"fields":[],"memory":{"places":[]},"drives":[],"absent":[]}',),
        ),
        "photo": Target(read_photo, ".jpg", (photo.getvalue(),)),
        "system tree": Target(_scan_tree, ".tree", (b"MemTotal: 8 kB\nMemAvailable: 4 kB\ncpu 1 2 3 4 5 6 7 8 9\n",)),
        "backup": Target(is_good, ".db", (b"SQLite format 3\x00" + b"\x10\x00" + bytes(82) + bytes(4000),)),
    }


def _scan_tree(path: Path) -> object:
    """A captured tree whose files all hold the same bytes."""
    from brachium.app.intake.local_job import scan_tree
    from brachium_probe.sampler import SystemSampler
    from brachium_probe.tree import Tree

    root, data = path.with_suffix(".root"), path.read_bytes()[:60_000]
    for name in ("proc/stat", "proc/meminfo", "proc/diskstats", "proc/cpuinfo", "proc/pressure/cpu",
                 "sys/class/hwmon/hwmon0/name", "sys/class/hwmon/hwmon0/temp1_input", "sys/block/sda/size",
                 "sys/class/power_supply/BAT0/type", "sys/class/power_supply/BAT0/energy_full",
                 "sys/class/thermal/thermal_zone0/temp", "sys/devices/system/cpu/cpu0/cpufreq/scaling_cur_freq",
                 "sys/firmware/dmi/tables/DMI", "sys/firmware/dmi/tables/smbios_entry_point"):  # fmt: skip
        file = root / name
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_bytes(data)
    tree = Tree(str(root))
    sampler = SystemSampler(tree)
    sampler.sample(1.0)
    values = sampler.sample(2.0)
    bad = [v for v in values.values() if v in (float("inf"), float("-inf"))]
    if bad:
        raise AssertionError("an infinite sample")
    return scan_tree(tree)


def mutated(seed: bytes, dice: random.Random) -> bytes:
    """One file nobody meant."""
    kind = dice.randrange(6)
    if kind == 0:
        return dice.randbytes(dice.choice((0, 1, 3, 40, 4000)))
    if kind == 1:
        data = bytearray(seed)
        for _ in range(dice.choice((1, 1, 4, 40))):
            if data:
                data[dice.randrange(len(data))] = dice.randrange(256)
        return bytes(data)
    if kind == 2:
        cut = dice.randrange(len(seed) + 1)
        return seed[:cut] if dice.random() < 0.5 else seed[cut:]
    if seed[:2] == b"PK":
        return _zip(seed, dice)
    if seed[:1] in (b"{", b"[") and b"\n{" not in seed and kind != 5:
        return _json(seed, dice)
    return _lines(seed, dice)


def _json(seed: bytes, dice: random.Random) -> bytes:
    whole = json.loads(seed)
    spots: list[tuple[object, object]] = []

    def walk(value: object) -> None:
        if isinstance(value, dict):
            for key, inner in value.items():
                spots.append((value, key))
                walk(inner)
        elif isinstance(value, list):
            for index, inner in enumerate(value[:40]):
                spots.append((value, index))
                walk(inner)

    walk(whole)
    for _ in range(dice.choice((1, 1, 2, 5))):
        if not spots:
            break
        holder, key = dice.choice(spots)
        new = dice.choice((*VALUES, *NASTY))
        if isinstance(holder, dict) and dice.random() < 0.2:
            holder.pop(key, None)
        elif isinstance(holder, dict) and dice.random() < 0.15:
            holder[str(dice.choice(NASTY))[:50] or "x"] = new
        elif isinstance(holder, dict) or (isinstance(key, int) and key < len(holder)):  # type: ignore[arg-type]
            holder[key] = new  # type: ignore[index]
    text = json.dumps(whole)
    if dice.random() < 0.1:
        text = text.replace("}", "}" * 2, 1) if dice.random() < 0.5 else "[" * dice.choice((900, 200_000)) + text
    return text.encode("utf-8", "surrogatepass")


def _lines(seed: bytes, dice: random.Random) -> bytes:
    lines = seed.decode("latin-1").split("\n")
    for _ in range(dice.choice((1, 2, 6))):
        at = dice.randrange(len(lines))
        how = dice.randrange(6)
        if how == 0:
            lines[at] = dice.choice(NASTY).encode("utf-8", "surrogatepass").decode("latin-1")
        elif how == 1:
            lines.insert(at, lines[at])
        elif how == 2:
            other = dice.randrange(len(lines))
            lines[at], lines[other] = lines[other], lines[at]
        else:
            mark = dice.choice((",", ";", " ", ":"))
            cells = lines[at].split(mark)
            cells[dice.randrange(len(cells))] = dice.choice(NASTY).encode("utf-8", "surrogatepass").decode("latin-1")
            lines[at] = mark.join(cells)
    return dice.choice(("\n", "\n", "\r", "\r\n")).join(lines).encode("latin-1")


def _zip(seed: bytes, dice: random.Random) -> bytes:
    from brachium.formats.run_file import sha256

    with zipfile.ZipFile(io.BytesIO(seed)) as old:
        parts = {n: old.read(n) for n in old.namelist()}
    manifest = json.loads(parts["manifest.json"])
    name = dice.choice([n for n in parts if n != "manifest.json"])
    parts[name] = mutated(parts[name], dice)
    manifest["files"][name] = {"sha256": sha256(parts[name]), "bytes": len(parts[name])}
    how = dice.randrange(5)
    if how == 0:
        manifest["runs"] *= 40
    elif how == 1:
        manifest = json.loads(_json(json.dumps(manifest).encode(), dice).decode("utf-8", "replace") or "{}") if (
            dice.random() < 0.5) else manifest  # fmt: skip
    elif how == 2:
        parts[name] = b"0," * dice.choice((1000, 9_000_000))
        manifest["files"][name] = {"sha256": sha256(parts[name]), "bytes": 1}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for part, data in {**parts, "manifest.json": json.dumps(manifest).encode()}.items():
            new.writestr(part, data)
    return out.getvalue()


def child(name: str, count: int, folder: Path) -> int:
    """Try one reader; prints one JSON line."""
    target = targets(folder)[name]
    dice = random.Random(f"{SEED} {name}")
    uncaught: list[str] = []
    slow, longest, read = 0, 0.0, 0
    path = folder / f"file{target.suffix}"
    for seed in target.seeds:  # each of them is a good file
        path.write_bytes(seed)
        target.read(path)
    base = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    for number in range(count):
        try:
            data = mutated(dice.choice(target.seeds), dice)
        except (ValueError, RecursionError, AttributeError, TypeError, KeyError):
            data = dice.randbytes(100)
        path.write_bytes(data)
        start = time.perf_counter()
        try:
            target.read(path)
            read += 1
        except Problem:
            pass
        except BaseException as error:
            uncaught.append(f"{number}: {type(error).__name__}: {str(error)[:90]}")
            (folder.parent / f"fuzz-{name.replace(' ', '-')}-{number}{target.suffix}").write_bytes(data)
        took = time.perf_counter() - start
        slow, longest = slow + (took > SLOW_S), max(longest, took)
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024 - base
    print(json.dumps({"reader": name, "files": count, "read": read, "uncaught": uncaught[:5], "count": len(uncaught),
                      "slow": slow, "longest_s": round(longest, 2), "memory_mb": round(most)}))  # fmt: skip
    return 0


def main(arguments: list[str]) -> int:
    """All readers; the exit code says whether every one of them held."""
    if arguments[:1] == ["--child"]:
        return child(arguments[1], int(arguments[2]), Path(arguments[3]))
    count = int(arguments[0]) if arguments else COUNT
    good = True
    print(
        "| reader | files | read | uncaught | over 2 s | longest [s] | most memory [MB] |\n"
        "|---|---|---|---|---|---|---|"
    )
    with tempfile.TemporaryDirectory() as folder:
        for name in targets(Path(folder)):
            work = Path(folder) / name.replace(" ", "-")
            work.mkdir()
            done = subprocess.run(
                [sys.executable, "-m", "benchmarks.fuzz_readers", "--child", name, str(count), str(work)],
                capture_output=True, text=True, check=False,
            )  # fmt: skip
            if done.returncode:
                print(f"| {name} | the reader ended its process: {done.stderr[-300:]} |")
                good = False
                continue
            row = json.loads(done.stdout.splitlines()[-1])
            print(f"| {name} | {row['files']} | {row['read']} | {row['count']} | {row['slow']} | {row['longest_s']} | "
                  f"{row['memory_mb']} |", flush=True)  # fmt: skip
            for line in row["uncaught"]:
                print(f"  {line}")
            good &= row["count"] == 0 and row["slow"] == 0 and row["memory_mb"] <= MEMORY_MB
        for left in Path(folder).glob("fuzz-*"):
            kept = Path(tempfile.gettempdir()) / left.name
            kept.write_bytes(left.read_bytes())
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
