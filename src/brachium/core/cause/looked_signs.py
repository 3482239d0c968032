"""Signs of what was looked at and tried out when the machine was taken in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType

from brachium.core.base.text import joined, lower_first
from brachium.core.base.why import Origin
from brachium.core.cause.known import Known, observed
from brachium.core.cause.ranking import Observation
from brachium.core.condition.findings import Severity, kind_of
from brachium.core.condition.trials import TrialOutcome

DIRT = ("felt", "hair", "insects", "tar")  # loose dust blows out: it is no felt
AT_DRIVES = ("drives", "bottom", "back")  # zones whose loose plug feeds a drive
NOWHERE: Mapping[str, Sequence[str]] = MappingProxyType({})


def looked_signs(known: Known) -> list[Observation]:
    """What was seen when it was taken in; without any look nothing is concluded."""
    if not known.findings and not known.tried:
        return []
    blocked, vents = _found(known, ("vent",), Severity.SLIGHT)
    dirty, dirt = _found(known, DIRT, Severity.CLEAR)
    loud, fan = _found(known, ("fan",), Severity.SLIGHT)
    drive_bad, drive = _found(known, ("noise", "cable"), Severity.SLIGHT, {"cable": AT_DRIVES})
    failing = next((t for t in known.tried if t.id == "fan" and t.outcome is TrialOutcome.FAILS), None)
    if failing is not None:
        loud, fan = True, failing.note or "the fan test failed"
    return [
        *_tries(known),
        observed("vents", "blocked or covered" if blocked else "nothing found", vents, Origin.TYPED),
        observed("dirt", "felted or much" if dirty else "none or slight", dirt, Origin.TYPED),
        observed("noise", "noisy or stuck" if loud else "quiet or plain", fan, Origin.TYPED),
        observed("drive_noise", "noisy or cable loose" if drive_bad else "quiet", drive, Origin.TYPED),
    ]


def _tries(known: Known) -> list[Observation]:
    """What trying it out said of starting and of staying on."""
    out, tried = [], {t.id: t for t in known.tried}
    stops = [t for i in ("firmware", "system") if (t := tried.get(i)) is not None and t.outcome is TrialOutcome.FAILS]
    system = tried.get("system")
    if stops:
        out.append(observed("starts", "stops before the system", stops[0].note or "as tried", Origin.TYPED))
    elif system is not None and system.outcome is TrialOutcome.WORKS:
        out.append(observed("starts", "it does", "as tried", Origin.TYPED))
    stays = tried.get("stays")
    if stays is not None and stays.outcome in (TrialOutcome.WORKS, TrialOutcome.FAILS):
        state = "it does" if stays.outcome is TrialOutcome.WORKS else "restarts or goes off"
        out.append(observed("stays", state, stays.note or "as tried", Origin.TYPED))
    return out


def _found(
    known: Known, kinds: Sequence[str], least: Severity, zones: Mapping[str, Sequence[str]] = NOWHERE
) -> tuple[bool, str]:  # fmt: skip
    """(whether a finding of these kinds is at least so severe, which ones in words); `zones` where a kind counts."""
    worst: dict[str, Severity] = {}
    for finding in known.findings:
        if finding.kind in zones and finding.zone not in zones[finding.kind]:
            continue
        worst[finding.kind] = max(worst.get(finding.kind, Severity.SLIGHT), finding.severity)
    names = {f.kind: lower_first(kind_of(f).title) for f in known.findings}
    bad = [k for k in kinds if worst.get(k, 0) >= least]
    return bool(bad), joined(", ", (names[k] for k in bad)) or "nothing found"
