"""What a run that goes on will prove, as far as its results show how much they scatter."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from brachium.app.bench.recorder import LiveView
from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.measure.assumptions import PROMISE_APART
from brachium.core.measure.run import Protocol
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import as_shown, smallest_provable
from brachium.core.measure.workloads import spec_of


class LiveProof:
    """Works one test out at a look, the one whose results are new: some milliseconds."""

    def __init__(self) -> None:
        self._counts: dict[str, int] = {}
        self._said: dict[str, tuple[float, str]] = {}  # by how much worse than promised, the sentence

    def look(self, live: LiveView, protocol: Protocol, spreads: Mapping[str, Spread]) -> str:
        """The test that falls most behind what was promised, in words; empty where none does."""
        earlier = [s for s in live.finished if s.number != live.session]
        for key in (k for k in protocol.tests if k in spreads):
            present = [r.value for r in live.repeats if r.test == key and r.valid]
            sessions = (*(s.results(key) for s in earlier), np.array(present))
            count = sum(r.size for r in sessions)
            if count == self._counts.get(key, 0):
                continue
            self._counts[key] = count
            self._work_out(key, sessions, protocol, spreads[key])
            break
        return max(self._said.values(), default=(0.0, ""))[1]

    def _work_out(self, key: str, sessions: tuple[np.ndarray, ...], protocol: Protocol, promised: Spread) -> None:
        self._said.pop(key, None)
        shown = as_shown(promised, sessions)
        was, now = (smallest_provable(s, protocol.sessions, protocol.repeats) for s in (promised, shown))
        if shown is not promised and now > (1.0 + PROMISE_APART) * was:
            self._said[key] = (
                now / was,
                (
                    phrase(
                        "{title} scatters by {within}: this run proves a gain from {now} on, {was} was promised. "
                        "Another session proves more.",
                        title=spec_of(key).title,
                        within=percent(shown.within, 1),
                        now=percent(now, 1),
                        was=percent(was, 1),
                    )
                ),
            )
