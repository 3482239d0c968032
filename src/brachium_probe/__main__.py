"""`brachium-probe`: measures the machine that it is started on and writes one run file beside itself."""

from __future__ import annotations

import argparse
import json
import os
import re
import sys
import time
from typing import List

from brachium_probe import PROBE_VERSION, facts
from brachium_probe.journal import JournalWriter
from brachium_probe.kernels import KERNELS
from brachium_probe.own_folder import sweep
from brachium_probe.plan import ProbePlan
from brachium_probe.run import ProbeRun
from brachium_probe.sampler import SystemSampler
from brachium_probe.scan import scan
from brachium_probe.tree import Tree
from brachium_probe.watching.watch import watch

SYNC_S = 2.0
IN_MEMORY = ("tmpfs", "ramfs", "rootfs", "squashfs", "overlay")


def main(arguments: List[str]) -> int:
    """Entry point; returns the exit code."""
    if arguments[:1] == ["--child"]:
        return _child(arguments[1:])
    if arguments[:1] == ["watch"]:
        return watch(arguments[1:])
    given = _parser().parse_args(arguments)
    try:
        return _measure(given)
    except Refused as refused:
        print(refused, file=sys.stderr)
        return 1


class Refused(Exception):  # noqa: N818 - said to people as it is named
    """Something that the user can mend; the text says what."""


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="brachium-probe", description="Measures this machine in about four minutes and writes one run file beside "
        "itself. Writes nowhere else, unless a folder is named for drive tests. `watch` goes along with real use.",
    )  # fmt: skip
    parser.add_argument("--room", type=float, help="room temperature at the intake [degC]; heat figures need it")
    parser.add_argument("--folder", default="", help="folder on the drive to be tested; one file is made and removed")
    parser.add_argument("--configuration", default="as taken in", help="what state the machine is in")
    parser.add_argument("--limit", type=float, help="stop at this processor temperature [degC]")
    parser.add_argument("--out", default="", help="where the run file goes, if not beside the probe")
    parser.add_argument("--rehearsal", action="store_true", help="go through it all in half a minute")
    parser.add_argument("--root", default="/", help=argparse.SUPPRESS)
    parser.add_argument("--version", action="version", version=f"brachium-probe {PROBE_VERSION}")
    return parser


def _measure(given: argparse.Namespace) -> int:
    tree = Tree(given.root)
    plan = ProbePlan(given.rehearsal, os.path.abspath(given.folder) if given.folder else "")
    if given.room is not None and not -10.0 <= given.room <= 50.0:
        raise Refused(f"a room of {given.room:g} degC: state degrees Celsius, such as 23.5")
    if plan.folder:
        _check_folder(plan)
    disk = facts.disk_of(plan.folder, tree) if plan.folder else ""
    sampler = SystemSampler(tree, given.limit, disk)
    for what, why in sampler.missing():
        print(f"not measured here: {what}: {why}")
    found = scan(tree)
    for line in found["absent"]:  # type: ignore[attr-defined]
        print(f"not read: {line['what']}: {line['why']}")
    path = _run_path(given.out, tree)
    taken_at = time.strftime("%Y-%m-%d %H:%M")
    head = plan.head(tree, os.path.basename(path).rpartition(".")[0], given.configuration, taken_at, given.room)
    try:
        channels = [(c.key, c.unit, c.source) for c in sampler.channels()]
        journal = JournalWriter(path, head, channels, SYNC_S, found)
    except OSError as error:
        raise Refused(f"{path}: {error.strerror or error}. Name a folder that can be written with --out.") from error
    print(f"writing {path}")
    complete = ProbeRun(plan, sampler, journal, _say).execute()
    print(f"{'done' if complete else 'not complete, but kept'}: {path}")
    return 0 if complete else 1


def _say(line: str) -> None:
    """A step as it begins, also into a pipe."""
    print(line, flush=True)


def _run_path(out: str, tree: Tree) -> str:
    """Beside the probe itself, whose archive may be started from anywhere."""
    folder = os.path.abspath(out) if out else os.path.dirname(os.path.abspath(sys.argv[0]))
    name = tree.text("/sys/class/dmi/id/product_name") or os.uname().nodename or "machine"
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "machine"
    return os.path.join(folder, f"probe-{plain}-{time.strftime('%Y%m%d-%H%M%S')}.jsonl")


def _check_folder(plan: ProbePlan) -> None:
    if not os.path.isdir(plan.folder):
        raise Refused(f"{plan.folder}: there is no such folder")
    kind = facts.mount_of(plan.folder)[0]
    if kind in IN_MEMORY:
        raise Refused(f"{plan.folder}: this folder lies in memory ({kind}), not on a drive")
    for name in sweep(plan.folder):
        print(f"removed what a run that was killed had left: {name}")
    status = os.statvfs(plan.folder)
    if status.f_bavail * status.f_frsize < 1.1 * plan.drive_bytes:
        raise Refused(f"{plan.folder}: {plan.drive_bytes / 1e6:.0f} MB are needed for the test file")
    if not os.access(plan.folder, os.W_OK):
        raise Refused(f"{plan.folder}: not allowed to write here")


def _child(arguments: List[str]) -> int:
    from brachium_probe.child_protocol import end_with_the_program, say

    end_with_the_program()
    values = json.loads(arguments[1])
    cpu = values.pop("cpu", None)
    if cpu is not None:
        os.sched_setaffinity(0, {cpu})
    try:
        KERNELS[arguments[0]](**values)
    except (OSError, MemoryError) as error:
        say(problem=str(getattr(error, "strerror", "") or error or "not enough free memory"))
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
