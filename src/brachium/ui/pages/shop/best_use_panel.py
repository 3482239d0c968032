"""Shelf first: the assignment of free parts to waiting machines that brings most, and keeping them for it."""

from __future__ import annotations

import threading

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.shelf_assignment import BestUse, find_best_use, kept_for
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, lower_first, many, phrase
from brachium.core.base.units import ratio
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.choose.shelf_assignment import Use
from brachium.core.record.parts_shelf import ShelfPart
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, clear, label, paragraph


class BestUsePanel(QWidget):
    """Looks at all machines when asked; a change of the shelf makes the answer old and takes it away."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._found: BestUse | None = None
        self._parts: tuple[ShelfPart, ...] = ()
        self._stop = threading.Event()
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(4)
        row = QHBoxLayout()
        row.addWidget(label("Shelf first", "section"))
        row.addStretch(1)
        self.search = button("Find the best use", self.look, "", "Over all machines that wait, under the fit rules")
        self.stop = button("Stop", self._stop.set, "quiet")
        self.keep = button("Keep them all", self._keep_all, "primary", "Each part is kept for its machine")
        for w in (self.search, self.stop, self.keep):
            row.addWidget(w)
        body.addLayout(row)
        self.words = paragraph("", "soft")
        body.addWidget(self.words)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(16)
        self._grid.setVerticalSpacing(4)
        for column, stretch in enumerate((3, 6, 1, 0)):
            self._grid.setColumnStretch(column, stretch)
        body.addLayout(self._grid)

    def show_shop(self, parts: tuple[ShelfPart, ...]) -> None:
        """The shelf as it is now."""
        if parts != self._parts:
            self._parts, self._found = parts, None
        self.setVisible(bool(parts))
        self._show()

    def look(self) -> None:
        """Look at every machine that waits, off the window's thread."""
        self._stop.clear()
        self.search.setVisible(False)
        self.stop.setVisible(True)
        self.words.setText(say("Looking at the machines that wait…"))
        lanes, reading = self._session.workspace.lanes, self._session.workspace.reading()
        lanes.submit(
            "compute", lambda: find_best_use(reading, cancelled=self._stop.is_set), self._arrived, self._failed
        )

    def _arrived(self, found: BestUse | None) -> None:
        self._found = found
        self._show()
        if found is None:
            self.words.setText(say("Stopped; nothing was changed."))
        else:
            self._session.search_done.emit("Shelf first", self.words.text())
        self._session.explain(self.because())

    def _failed(self, error: Exception) -> None:
        self._show()
        self._session.report(error)

    def _show(self) -> None:
        found = self._found
        self.search.setVisible(found is None)
        self.stop.setVisible(False)
        self.keep.setVisible(found is not None and bool(found.uses))
        clear(self._grid)
        if found is None:
            self.words.setText(say("Where each free part is worth most."))
            return
        self.words.setText(say(self._said(found)))
        for row, use in enumerate(found.uses):
            parts = joined(
                "; ",
                (
                    phrase("{title} into {place}", title=title, place=lower_first(place))
                    for _, title, place in use.parts
                ),
            )
            self._grid.addWidget(label(use.name, "title"), row, 0)
            self._grid.addWidget(label(parts, "soft"), row, 1)
            self._grid.addWidget(label(ratio(use.gain), "title"), row, 2)
            self._grid.addWidget(button("Keep for it", lambda u=use: self._keep((u,))), row, 3)  # type: ignore[misc]

    def _said(self, found: BestUse) -> str:
        left = (
            phrase(
                " Left out, not measured or data not settled: {left_out}.",
                left_out=joined(", ", found.left_out),
            )
            if found.left_out
            else ""
        )
        if not found.uses:
            return phrase(
                "No free part brings any of the {machines} one per cent.{left}",
                machines=many(found.looked_at, "machine"),
                left=left,
            )
        count = sum(len(u.parts) for u in found.uses)
        return phrase(
            "{parts} for {machines} of {looked_at} compared.{left}",
            parts=many(count, "part"),
            machines=many(len(found.uses), "machine"),
            looked_at=found.looked_at,
            left=left,
        )

    def _keep_all(self) -> None:
        if self._found is not None:
            self._keep(self._found.uses)

    def _keep(self, uses: tuple[Use, ...]) -> None:
        shelf = self._session.shelf
        shelf.edit("parts kept", kept_for(shelf.parts, uses))
        self._session.say(
            phrase("{parts} kept; plan them in Choose.", parts=many(sum(len(u.parts) for u in uses), "part"))
        )

    def because(self) -> Because | None:
        """What the assignment rests on."""
        found = self._found
        if found is None:
            return None
        facts = tuple(Fact(u.name, ratio(u.gain), Origin.COMPUTED) for u in found.uses)
        return Because(
            "Shelf first", "set packing, exact",
            "The assignment with the largest product of gains; kept and doubtful parts take no part.",
            facts, "", "A part tested or freed; a machine measured.",
        )  # fmt: skip
