"""What the role of this bench may do, in words: the database refuses it anyway, the window says so before."""

from __future__ import annotations

from brachium.store.roles import Role

ROLE_WORDS = {
    Role.READER: "which only reads",
    Role.COUNTER: "the counter",
    Role.TECHNICIAN: "a technician's bench",
    Role.OWNER: "with an owner's rights",
}
COUNTER_STOPS = "bench work on this machine has begun; a technician changes it now"
ONLY_READS = "this bench only reads the shop"
OWNER_ONLY = "only the shop's owner sets prices and settings"


def bench_problem(role: Role, begun: bool) -> str:
    """Why a record may not be changed here, `begun` = bench work on it has; empty where it may."""
    if role is Role.READER:
        return ONLY_READS
    return COUNTER_STOPS if role is Role.COUNTER and begun else ""


def bench_work_problem(role: Role) -> str:
    """Why the stages behind Take in, shelf and day sheet are closed to a role; empty where they are not."""
    if role is Role.READER:
        return ONLY_READS
    return "the counter takes machines in; a technician does this" if role is Role.COUNTER else ""


def owner_problem(role: Role) -> str:
    """Why prices and settings are closed to a role; empty where they are not."""
    return "" if role is Role.OWNER else OWNER_ONLY
