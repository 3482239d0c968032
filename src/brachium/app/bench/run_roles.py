"""The roles that a run of a job plays; a later run follows up on a machine that was handed over, days are watched."""

BEFORE, AFTER, LATER, STABILITY = "before", "after", "later", "stability"
DAY_BEFORE, DAY_AFTER = "day before", "day after"
TITLES = {BEFORE: "as taken in", AFTER: "after the work", LATER: "months later", STABILITY: "stability test",
          DAY_BEFORE: "days before", DAY_AFTER: "days after"}  # fmt: skip
