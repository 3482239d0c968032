"""The roles that a run of a job plays; a later run follows up on a machine that was handed over."""

BEFORE, AFTER, LATER, STABILITY = "before", "after", "later", "stability"
TITLES = {BEFORE: "as taken in", AFTER: "after the work", LATER: "months later", STABILITY: "stability test"}
