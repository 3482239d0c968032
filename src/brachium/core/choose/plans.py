"""Plans that are kept by name, side by side; and why an option is not in the recommended one."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import phrase
from brachium.core.choose.compatibility import Option
from brachium.core.choose.front import Front
from brachium.core.choose.plan_space import NOT_WEIGHED, Limits, Plan, PlanSpace
from brachium.core.fit.verdict import Level
from brachium.core.record.kept_plans import NamedPlan

MOST_KEPT = 4
NAMES = tuple(phrase("Plan {letter}", letter=letter) for letter in "ABCDEFGH")


def free_name(kept: Sequence[NamedPlan]) -> str:
    """The first letter that is not taken."""
    taken = {p.name for p in kept}
    return next((n for n in NAMES if n not in taken), phrase("Plan {count}", count=len(kept) + 1))


def why_not(option: Option, front: Front, space: PlanSpace, limits: Limits) -> str:
    """Why an option is not in the recommended plan, in one sentence; empty where it is."""
    chosen = front.recommended
    if option.candidate.id in chosen.ids:
        return ""
    if option.level is Level.REFUSED and space.best_with(option.candidate.id, Limits(limits.rate_per_hour)) is None:
        return "It does not fit, so no plan holds it"
    if option.level is Level.NOT_KNOWN:
        gap = next((v.gap for v in option.verdicts if v.gap is not None), None)
        how = phrase(": {how}, {minutes:.0f} min", how=gap.how, minutes=gap.minutes) if gap is not None else ""
        return phrase("Whether it fits is not known{how}", how=how)
    if option.candidate.group in NOT_WEIGHED and option.candidate.id not in space.ids:
        return "It brings no work per time by itself: plan it for its own sake"
    best = space.best_with(option.candidate.id, limits)
    if best is None:
        without = Limits(limits.rate_per_hour, vouchers=limits.vouchers)
        fits = space.best_with(option.candidate.id, without) is not None
        over = "over the budget" if limits.attended_min is None else "over the budget or the minutes"
        return (
            phrase("Every plan with it is {over}", over=over)
            if fits
            else "It goes together with nothing that is to be had"
        )
    return _against(best, chosen)


def _against(best: Plan, chosen: Plan) -> str:
    cost, gain = best.cost - chosen.cost, best.gain - chosen.gain
    dearer = (
        phrase("{cost:.0f} EUR {which}", cost=abs(cost), which="more" if cost > 0 else "less")
        if abs(cost) >= 0.5
        else "as much"
    )
    if abs(gain) < 0.005:
        return phrase("The best plan with it brings as much and costs {dearer}", dearer=dearer)
    return phrase(
        "The best plan with it costs {dearer} and brings {gain:.2f} {which}",
        dearer=dearer,
        gain=abs(gain),
        which="more" if gain > 0 else "less",
    )


def worth_knowing(with_facts: Front, front: Front, missing: Sequence[tuple[str, float]]) -> str:
    """What facts that are missing could change: the best plan if every unknown option fitted; empty where nothing."""
    more = with_facts.recommended.gain - front.recommended.gain
    saved = front.recommended.cost - with_facts.recommended.cost
    if not missing or (more < 0.005 and saved < 1.0):
        return ""
    what, minutes = min(missing, key=lambda m: m[1])
    gain = (
        phrase("{more:.2f} more", more=more)
        if more >= 0.005
        else phrase("as much for {saved:.0f} EUR less", saved=saved)
    )
    return phrase("Knowing the {what} ({minutes:.0f} min) could bring {gain}", what=what, minutes=minutes, gain=gain)
