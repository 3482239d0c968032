"""What another kind of use changes: the cause to see to first, the recommended plan, where to stop."""

from __future__ import annotations

from brachium.app.view.job_view import JobView
from brachium.core.base.text import joined, lower_first, phrase


def changed_by_use(before: JobView, after: JobView) -> str:
    """In one sentence; empty where the use is the same."""
    old, new = before.causes.profile, after.causes.profile
    if old.id == new.id or before.job.id != after.job.id:
        return ""
    parts = []
    causes = [v.causes.assessment.headline for v in (before, after)]
    if causes[0] != causes[1]:
        parts.append(phrase("first now: {causes}", causes=lower_first(causes[1])))
    plans = [_recommended(v) for v in (before, after)]
    if None not in plans and plans[0] != plans[1]:
        parts.append(phrase("recommended now: {plans}, before: {plans2}", plans=plans[1], plans2=plans[0]))
    return phrase(
        "{new} in place of {old}: {parts}.",
        new=new.title,
        old=lower_first(old.title),
        parts=joined("; ", parts) or "cause and recommendation stay",
    )


def _recommended(view: JobView) -> str | None:
    """The recommended plan with its gain; None where there is no front."""
    weighed = view.choice.weighed
    if weighed is None:
        return None
    plan = weighed.front.recommended
    names = [weighed.titles.get(i, i) for i in plan.ids]
    return phrase("{names} (× {gain:.2f})", names=joined(" + ", names), gain=plan.gain) if names else "nothing"
