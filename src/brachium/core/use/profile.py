"""Use profiles: how one unit of the owner's work spends its time, and how it touches memory."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

RESOURCES = ("single", "all", "memory", "random", "sequential", "graphics", "network", "person")


@dataclass(frozen=True)
class UseProfile:
    """Shares of time per resource (sum 1), overlap 0..1, working set [GiB], access skew.

    `skew` is the exponent k of the hit share (M/W)^k with memory M under working set W: 1 = every page alike,
    smaller = a hot part is touched most.
    """

    id: str
    title: str
    shares: Mapping[str, float]
    overlap: float
    working_set_gib: float
    skew: float
    measured: bool = False  # shares of the before-run in place of the profile's own


def _shares(*values: float) -> dict[str, float]:
    return dict(zip(RESOURCES, values, strict=True))


PROFILES: tuple[UseProfile, ...] = (
    UseProfile("office", "Office and web", _shares(0.25, 0.08, 0.05, 0.14, 0.04, 0.02, 0.12, 0.30), 0.15, 3.5, 0.35),
    UseProfile("calls", "School and video calls", _shares(0.20, 0.18, 0.06, 0.10, 0.03, 0.05, 0.13, 0.25),
               0.25, 4.0, 0.35),
    UseProfile("audio", "Audio production", _shares(0.30, 0.24, 0.12, 0.08, 0.06, 0.0, 0.0, 0.20), 0.20, 6.0, 0.40),
    UseProfile("photo", "Photo work", _shares(0.22, 0.24, 0.12, 0.08, 0.08, 0.04, 0.0, 0.22), 0.20, 7.0, 0.45),
    UseProfile("video", "Video editing", _shares(0.12, 0.40, 0.08, 0.07, 0.10, 0.05, 0.0, 0.18), 0.25, 7.0, 0.45),
    UseProfile("build", "Software building", _shares(0.14, 0.46, 0.08, 0.12, 0.04, 0.0, 0.0, 0.16), 0.20, 5.0, 0.40),
    UseProfile("games", "Light games", _shares(0.24, 0.12, 0.06, 0.04, 0.04, 0.40, 0.04, 0.06), 0.45, 6.0, 0.40),
    UseProfile("machines", "Virtual machines", _shares(0.16, 0.30, 0.10, 0.18, 0.06, 0.0, 0.06, 0.14), 0.25, 12.0,
               0.50),
    UseProfile("files", "File server", _shares(0.06, 0.06, 0.03, 0.20, 0.25, 0.0, 0.35, 0.05), 0.40, 2.0, 0.30),
    UseProfile("media", "Media player", _shares(0.16, 0.10, 0.05, 0.06, 0.08, 0.15, 0.15, 0.25), 0.35, 2.5, 0.30),
)  # fmt: skip


def profile_of(profile_id: str) -> UseProfile:
    """The profile of that id; the first one where it is unknown."""
    return next((p for p in PROFILES if p.id == profile_id), PROFILES[0])
