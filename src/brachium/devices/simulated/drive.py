"""A simulated drive: disk arm and tracks, or flash latency; both behind a link."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.late_numpy import np
from brachium.core.machine.parts import Drive

READ_BYTES = 4096
QUEUE_GAIN_DISK = 2.3
FLASH_CHANNELS = 24.0


@dataclass(frozen=True)
class SimulatedDrive:
    """Timing of a drive. Rates in MB/s; `track` (0 outer .. 1 inner) is where the test file lies."""

    rotational: bool
    outer_mb_s: float
    inner_mb_s: float
    latency_ms: float
    link_mb_s: float
    rpm: float = 5400.0
    long_factor: float = 1.0  # faults: shares of its rates that are left
    small_factor: float = 1.0

    @staticmethod
    def of(drive: Drive, link_mb_s: float) -> SimulatedDrive:
        """Physics of a catalogued drive behind a link of so much coded payload [MB/s]."""
        return SimulatedDrive(
            drive.rotational, drive.outer_mb_s, drive.inner_mb_s, drive.read_latency_ms, 0.93 * link_mb_s
        )

    def sequential_mb_s(self, track: float) -> float:
        """Track length falls linearly from rim to hub, and the rate with it."""
        raw = self.outer_mb_s + (self.inner_mb_s - self.outer_mb_s) * track
        return min(raw, self.link_mb_s) * self.long_factor

    def random_reads_s(self, depth: int, span: float, rng: np.random.Generator, count: int = 400) -> float:
        """Rate of 4 KiB reads over a span (share of the whole stroke) at a queue depth [1/s]."""
        if not self.rotational:
            one = self.latency_ms * rng.lognormal(0.0, 0.12, count).mean() / 1000.0
            rate = min(min(depth, FLASH_CHANNELS) / one, self.link_mb_s * 1e6 / READ_BYTES)
            return float(rate) * self.small_factor
        turn_ms = 60_000.0 / self.rpm
        distance = np.abs(np.diff(rng.random(count + 1))) * span
        seek_ms = 1.2 + (2.0 * self.latency_ms - turn_ms) * 0.75 * np.sqrt(distance)
        time_ms = np.maximum(seek_ms, 0.8) + rng.random(count) * turn_ms
        gain = 1.0 + (QUEUE_GAIN_DISK - 1.0) * np.log2(max(depth, 1)) / 5.0
        return float(1000.0 / time_ms.mean() * gain) * self.small_factor
