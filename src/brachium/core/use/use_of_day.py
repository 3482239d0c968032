"""The use profile that a watched day stands for: its shares, overlap and working set in place of the profile's own."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.measure.waiting import KEYS, Limit
from brachium.core.use.day_of_use import GRAPHICS, NETWORK, STALLS, DayOfUse
from brachium.core.use.measured_shares import TASK, measured_use
from brachium.core.use.profile import UseProfile

SYSTEM_GIB = 0.6  # of the memory in use that is the system's own


def use_of_day(profile: UseProfile, day: DayOfUse) -> UseProfile | None:
    """The profile as this day measured it. All threads and memory bandwidth, small and long reads keep the profile's
    own ratio; network and person are told apart by what came over the network. What was not recorded keeps the
    profile's own share."""
    limit = Limit(TASK, 3600.0 * day.hours_at_work, {k: day.shares[k] for k in KEYS}, "", day.blind)
    measured = measured_use(profile, (limit,))
    if measured is None:
        return None
    shares = dict(measured.shares)
    free = shares.get("network", 0.0) + shares.get("person", 0.0)
    if day.sees(NETWORK):
        network = min(day.network_share / max(day.shares["free"], 1e-9), 1.0) * free
        shares["network"], shares["person"] = network, free - network
    shares = _unseen(profile, day, shares)
    need = day.need
    working = profile.working_set_gib if need is None else max(need.mid_gib - SYSTEM_GIB, 0.1)
    if need is not None and need.at_least:
        working = max(working, profile.working_set_gib)
    title = phrase(
        "{profile}, as watched for {hours_at_work:.1f} h", profile=profile.title, hours_at_work=day.hours_at_work
    )
    return replace(profile, shares=shares, overlap=day.overlap, working_set_gib=working, title=title, measured=True)


def _unseen(profile: UseProfile, day: DayOfUse, shares: dict[str, float]) -> dict[str, float]:
    """The shares with those of the profile in place of what the day could not see; the others make up the rest."""
    hidden = (*(() if day.sees(STALLS) else ("random", "sequential")), *(() if day.sees(GRAPHICS) else ("graphics",)))
    kept = {k: profile.shares.get(k, 0.0) for k in hidden}
    rest = sum(v for k, v in shares.items() if k not in kept)
    scale = (1.0 - sum(kept.values())) / rest if rest > 0.0 else 0.0
    return {k: kept.get(k, v * scale) for k, v in shares.items()}
