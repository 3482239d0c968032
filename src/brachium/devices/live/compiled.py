"""The compiled tests as children: what each of them does, on how many processors, in which unit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium.devices.native.library import available
from brachium_probe.children import ChildSpec
from brachium_probe.counters import memory_total_bytes, memory_used_frac
from brachium_probe.processor import last_cache_bytes
from brachium_probe.tree import Tree

MIB = 1 << 20
STREAM_BYTES = 64 * MIB  # a stream's block on each processor; more than any share of a last cache
LEAST_BYTES, USUAL_CACHE = 4096, 32 * MIB
MOST_SHARE = 0.25  # of the free memory that a latency ring may take
BEYOND = 4  # times the last cache
MOST_STREAMS = 4
DEEP, DEEP_PROCESSES = "drive_q32", 2
_DRIVES: dict[str, dict[str, object]] = {
    "drive_stream": {"kernel": "compiled-stream", "depth": 4}, "drive_q1": {"kernel": "compiled-requests", "depth": 1},
    "drive_q4": {"kernel": "compiled-requests", "depth": 4},
    "drive_mixed": {"kernel": "compiled-requests", "depth": 4, "mixed": True},
    "drive_flush": {"kernel": "compiled-flush"},
}  # fmt: skip


def compiled_here() -> bool:
    """Whether the compiled tests can be done here."""
    return available()


def working_sets(tree: Tree | None = None) -> tuple[int, ...]:
    """Working sets of the latency curve [byte]: doubled from 4 KiB to four times the last cache, as far as there is
    room."""
    found = tree or Tree()
    total, used = memory_total_bytes(found), memory_used_frac(found)
    free = (total or 1 << 30) * (1.0 - (used if used is not None else 0.5))
    most = min(BEYOND * (last_cache_bytes(found) or USUAL_CACHE), int(MOST_SHARE * free))
    out = [LEAST_BYTES]
    while out[-1] < most:
        out.append(2 * out[-1])
    return tuple(out)


def compiled_specs(
    cpus: Sequence[int], key: str, duration_s: float, where: Mapping[str, object] | None
) -> tuple[list[ChildSpec], float]:
    """(children, how many of their results are one of the test's unit). Raises KeyError for a test that is not offered,
    such as a drive test without a folder."""
    timed = {"duration_s": duration_s}
    if key == "mem_latency":
        return [ChildSpec("compiled-latency", {**timed, "sizes": list(working_sets())})], 1.0
    kind = key.partition("_")[2]
    if key.startswith("mem_"):
        some = list(cpus)[:MOST_STREAMS]
        return [ChildSpec("compiled-memory", {**timed, "kind": kind, "size_bytes": STREAM_BYTES, "cpu": c})
                for c in some], 1e9  # fmt: skip
    if key.startswith("cpu_"):
        return [ChildSpec("compiled-work", {**timed, "kind": kind, "cpu": c}) for c in cpus], 1.0
    if where is None:
        raise KeyError(key)
    if key == DEEP:  # one process that asks for all of them is itself the limit of a fast drive
        several = min(DEEP_PROCESSES, len(cpus))
        deep = {**where, **timed, "depth": 32 // several}
        return [ChildSpec("compiled-requests", {**deep, "seed": 1 + k}) for k in range(several)], 1.0
    said = dict(_DRIVES[key])
    return [ChildSpec(str(said.pop("kernel")), {**where, **timed, **said})], 1e6 if key == "drive_stream" else 1.0
