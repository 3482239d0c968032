"""Which programs take the processor, by name: told where a calm phase is not calm."""

from __future__ import annotations

import os

from brachium_probe.tree import Tree

LEAST_SHARE = 0.02  # of one core, from which on a program is named


class BusyPrograms:
    """Programs by the processor time that they took since the last look; `own` are the run's processes."""

    def __init__(self, tree: Tree) -> None:
        self._tree = tree
        self._last: dict[int, float] = {}

    def look(self, elapsed_s: float, own: list[int]) -> list[tuple[str, float]]:
        """(name, cores taken) of up to three programs, the busiest first; empty at the first look."""
        now, names = {}, {}
        for entry in self._tree.names("/proc"):
            found = _times(self._tree.text(f"/proc/{entry}/stat") or "") if entry.isdigit() else None
            if found is not None:
                now[int(entry)], names[int(entry)] = found[1], found[0]
        last, self._last = self._last, now
        if not last or elapsed_s <= 0.0:
            return []
        ours = {os.getpid(), *own}
        shares = [(names[p], (t - last[p]) / elapsed_s) for p, t in now.items() if p in last and p not in ours]
        found_ = sorted((s for s in shares if s[1] >= LEAST_SHARE), key=lambda s: -s[1])
        return found_[:3]


def _times(stat: str) -> tuple[str, float] | None:
    """(name, user and system time [s]) of a line of /proc/PID/stat; the name may hold spaces and brackets."""
    name, _, rest = stat.partition("(")[2].rpartition(")")
    fields = rest.split()
    if len(fields) < 13 or not (fields[11].isdigit() and fields[12].isdigit()):
        return None
    return name, (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")
