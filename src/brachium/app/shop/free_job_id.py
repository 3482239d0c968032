"""An id for a new record that no machine of the shop has."""

from __future__ import annotations

import re
import secrets

from brachium.app.shop.workspace import Workspace


def free_job_id(workspace: Workspace, name: str) -> str:
    """An id made of a name that no job of the shop has yet; in a shop of several benches also none that another one
    gives at the same moment."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:48] or "log"
    taken = set(workspace.job_ids())
    if workspace.shared:
        return f"{base}-{secrets.token_hex(3)}"
    job_id, number = base, 1
    while job_id in taken:
        number += 1
        job_id = f"{base}-{number}"
    return job_id
