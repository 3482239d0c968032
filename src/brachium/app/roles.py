"""The two roles that a run of a job plays."""

BEFORE, AFTER = "before", "after"
