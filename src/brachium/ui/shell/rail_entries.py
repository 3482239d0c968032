"""Which machine stands in which group of the rail."""

from __future__ import annotations

from datetime import date

from brachium.core.base.text import phrase
from brachium.core.record.card import JobCard, Waits
from brachium.ui.session import Session
from brachium.ui.shell.benches import bench_words
from brachium.ui.shell.rail import RailEntry
from brachium.ui.shell.shop_pages import SHOP_PAGES

NO_DATE = "9999"


def rail_entries(session: Session, wanted: str = "") -> tuple[RailEntry, ...]:
    """Headings with their machines, those needed soonest first; empty groups are left out.

    `wanted` keeps those whose name, model, serial or goal holds all its words; only a search shows archived ones.
    """
    active, today = session.measure.active, date.today().isoformat()
    words = wanted.lower().split()
    groups: dict[Waits, list[JobCard]] = {w: [] for w in Waits}
    for card in session.workspace.cards():
        if (card.archived and not words and card.id != session.job_id) or not card.holds(words):
            continue
        running = active is not None and active.job_id == card.id
        waits = Waits.AGAIN if card.due(today) else card.waits
        groups[Waits.RUNNING if running else waits].append(card)
    out: list[RailEntry] = []
    for waits, cards in groups.items():
        if cards:
            cards.sort(key=lambda c: c.needed_by or NO_DATE)
            out.append(RailEntry(waits.value, heading=True))
            out += [RailEntry(c.name, _note(session, c, waits), c.id, waits=waits) for c in cards]
    return tuple(out)


def shop_entries(session: Session) -> tuple[RailEntry, ...]:
    """The pages of the shop, always in view below the machines."""
    return tuple(RailEntry(page.title, page.note(session), page=page.id) for page in SHOP_PAGES)


def _note(session: Session, card: JobCard, waits: Waits) -> str:
    active = session.measure.active
    others = session.shared.at(card.id) if session.shared is not None else ()
    if others:
        return bench_words(others[0].name, others[0].doing)
    if waits is Waits.AGAIN:
        return phrase("due {look_again}", look_again=card.look_again)
    return (
        phrase("measuring the {role}", role=active.role) if waits is Waits.RUNNING and active is not None else card.note
    )
