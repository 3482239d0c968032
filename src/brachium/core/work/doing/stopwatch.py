"""A step's stopwatch: time with hands on it and time that runs by itself, split by one key."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Stopwatch:
    """Seconds so far of both kinds; `since` is when the present stretch began, `away` whether it runs by itself."""

    attended_s: float = 0.0
    away_s: float = 0.0
    since_s: float = 0.0
    away: bool = False

    @staticmethod
    def started(now_s: float) -> Stopwatch:
        return Stopwatch(since_s=now_s)

    def at(self, now_s: float) -> tuple[float, float]:
        """(attended, unattended) seconds until now."""
        running = max(now_s - self.since_s, 0.0)
        if self.away:
            return self.attended_s, self.away_s + running
        return self.attended_s + running, self.away_s

    def switched(self, now_s: float) -> Stopwatch:
        """Hands on, or away, from now on."""
        attended, away = self.at(now_s)
        return Stopwatch(attended, away, now_s, not self.away)


def clock_words(seconds: float) -> str:
    """4:07, or 1:02:33."""
    whole = int(seconds)
    hours, rest = divmod(whole, 3600)
    return f"{hours}:{rest // 60:02d}:{rest % 60:02d}" if hours else f"{rest // 60}:{rest % 60:02d}"
