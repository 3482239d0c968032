"""Choose: the fit board, candidates for the chosen place with their verdicts, the plan with gain and cost."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.app.view import JobView, Offer
from brachium.core.because import Because
from brachium.core.choose.catalogue import Group, planned
from brachium.core.figures.candidate_list import candidate_list
from brachium.core.figures.fit_board import COOLING, BoardState, board_height, fit_board
from brachium.core.figures.gain_bands import gain_bands
from brachium.core.fit.verdict import Level, Verdict
from brachium.core.job.job import Job
from brachium.core.shelf.offers import part_of
from brachium.core.units import minutes, money
from brachium.ui.pages.page import Page
from brachium.ui.widgets.labels import button, label

LONGEST_TITLE = 38


class ChoosePage(Page):
    """A click on a place lists what could go there; Return or double click on a candidate plans or unplans it."""

    def build(self) -> None:
        self._place = ""
        columns = QHBoxLayout()
        columns.setSpacing(16)
        self.board = self.figure()
        self.board.setMinimumSize(QSize(430, 320))
        self.board.show_selection = False
        self.board.chosen.connect(lambda region: self._choose_place(region.id))
        columns.addWidget(self.board, 3)
        right = QVBoxLayout()
        right.setSpacing(2)
        self._place_title = label("", "section")
        right.addWidget(self._place_title)
        self.offers = self.figure()
        self.offers.chosen.connect(self._explain_offer)
        self.offers.activated.connect(lambda region: self._toggle(region.id))
        area = QScrollArea()
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidgetResizable(True)
        inner = QWidget()
        inner.setObjectName("page")
        box = QVBoxLayout(inner)
        box.setContentsMargins(0, 0, 8, 0)
        box.addWidget(self.offers)
        box.addStretch(1)
        area.setWidget(inner)
        right.addWidget(area, 1)
        self.toggle = button("Plan it", self._toggle_selected, "primary")
        right.addWidget(self.toggle)
        columns.addLayout(right, 2)
        self.body.addSpacing(4)
        self.body.addLayout(columns, 1)
        self.body.addSpacing(8)
        row = QHBoxLayout()
        self._plan_title = label("Plan", "section")
        self._plan_cost = label("", "section")
        row.addWidget(self._plan_title)
        row.addStretch(1)
        row.addWidget(self._plan_cost)
        self.body.addLayout(row)
        self._plan_note = label("", "soft", True)
        self.body.addWidget(self._plan_note)
        self.bands = self.figure()
        self.bands.setMinimumHeight(96)
        self.body.addWidget(self.bands)

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None:
            self.set_heading("Choose parts", "Checking what fits…")
            return
        if not self._place:
            free = next((s.id for s in job.machine.slots if s.id not in job.machine.configuration().parts), "")
            self._place = free or (job.machine.slots[0].id if job.machine.slots else COOLING)
        self.set_heading(
            "Choose parts", "What is in the machine, what could be, and what it would bring. Choose a place."
        )
        self._show_board(job, view)
        self._show_offers(job, view)
        self._show_plan(view)

    def _show_board(self, job: Job, view: JobView) -> None:
        config = planned(job.machine, view.chosen())
        today = job.machine.configuration()
        levels: dict[str, Level] = {}
        for verdict in view.plan_verdicts:
            for place in verdict.places:
                if config.parts.get(place) != today.parts.get(place):
                    levels[place] = max(levels.get(place, Level.FITS), verdict.level)
        services = tuple(s.value for c in view.chosen() for s in c.services)
        state = BoardState(job.machine, config, levels, services, self._place)
        self.board.setMinimumHeight(max(320, round(board_height(job.machine))))
        self.board.set_builder(lambda w, h: fit_board(state, w, h))

    def _for_place(self, view: JobView) -> tuple[Offer, ...]:
        if self._place == COOLING:
            found = [o for o in view.offers if o.candidate.group in (Group.PASTE, Group.CLEANING)]
        else:
            found = [o for o in view.offers if self._place in o.candidate.places]
        return tuple(sorted(found, key=lambda o: (o.level, o.candidate.price)))

    def _show_offers(self, job: Job, view: JobView) -> None:
        offers = self._for_place(view)
        name = "chip, fins and fan" if self._place == COOLING else job.machine.place_label(self._place).lower()
        self._place_title.setText(f"For {name}")
        rows = tuple(
            (o.candidate.id, o.candidate.title, o.headline, money(o.candidate.price), o.level, o.chosen,
             o.verdicts[0].because if o.verdicts else None)
            for o in offers
        )  # fmt: skip
        self.offers.set_builder(lambda w, h: candidate_list(rows, w))
        self.offers.fit_height()
        if self.offers.selected not in {o.candidate.id for o in offers} and offers:
            self.offers.selected = next((o for o in offers if o.chosen), offers[0]).candidate.id
        self._show_toggle(view)

    def _show_toggle(self, view: JobView) -> None:
        offer = self._selected(view)
        self.toggle.setEnabled(offer is not None and (offer.chosen or offer.level is not Level.REFUSED))
        if offer is None:
            self.toggle.setText("Plan it")
        elif offer.level is Level.REFUSED and not offer.chosen:
            self.toggle.setText("Does not fit")
        else:
            self.toggle.setText("Take out of the plan" if offer.chosen else _plan_words(offer.candidate.title))

    def _selected(self, view: JobView) -> Offer | None:
        return next((o for o in self._for_place(view) if o.candidate.id == self.offers.selected), None)

    def _show_plan(self, view: JobView) -> None:
        cost = view.cost
        if not view.chosen():
            self._plan_title.setText("Plan")
            self._plan_cost.setText("")
            self._plan_note.setText("Nothing is planned yet. Choose a place, then a candidate, and plan it.")
            self.bands.set_builder(None)
            return
        self._plan_title.setText("What the plan would bring")
        budget = view.job.budget
        over = budget is not None and cost.total > budget
        limit = f" of {money(budget)}" if budget is not None else ""
        self._plan_cost.setText(f"{money(cost.total)}{limit}{', over budget' if over else ''}")
        self._plan_note.setText(
            f"{money(cost.parts)} parts, {money(cost.labour)} for {minutes(cost.attended_min)} of work; "
            f"{minutes(cost.unattended_min)} more run by themselves. {_preconditions(view)}"
        )
        prediction = view.prediction
        if prediction is None:
            self._plan_note.setText(self._plan_note.text() + " No before-run: no gain can be predicted.")
            self.bands.set_builder(None)
            return
        self.bands.set_builder(lambda w, h: gain_bands(prediction, w))
        self.bands.fit_height()

    def default_because(self) -> Because | None:
        view = self.session.view()
        if view is None:
            return None
        if view.prediction is not None:
            return view.prediction.because
        offer = self._selected(view)
        return offer_because(offer) if offer is not None else None

    def _choose_place(self, place_id: str) -> None:
        self._place = place_id
        job, view = self.session.job(), self.session.view()
        if job is not None and view is not None:
            self.offers.selected = ""
            self._show_board(job, view)
            self._show_offers(job, view)

    def _explain_offer(self, region: object) -> None:
        view = self.session.view()
        if view is not None:
            self._show_toggle(view)
            offer = self._selected(view)
            if offer is not None:
                self.session.explain(offer_because(offer))

    def _toggle_selected(self) -> None:
        self._toggle(self.offers.selected)

    def _toggle(self, candidate_id: str) -> None:
        job, view = self.session.job(), self.session.view()
        offer = next((o for o in view.offers if o.candidate.id == candidate_id), None) if view else None
        if job is None or view is None or offer is None:
            return
        if offer.chosen:
            plan = tuple(p for p in job.plan if p != candidate_id)
            self._put(job, offer, plan, False)
        elif offer.level is not Level.REFUSED:
            same = {o.candidate.id for o in view.offers if o.candidate.group is offer.candidate.group}
            plan = (*(p for p in job.plan if p not in same), candidate_id)
            self._put(job, offer, plan, True)

    def _put(self, job: Job, offer: Offer, plan: tuple[str, ...], planned_now: bool) -> None:
        """A part of the shop's own is kept for the machine, so that no other plan takes it."""
        title = offer.candidate.title
        if any(part_of(c) for c in (*job.plan, *plan)):
            self.session.shelf.plan(job.id, title, plan, planned_now)
        else:
            word = "planned" if planned_now else "taken out of the plan"
            self.session.edit(f"{title} {word}", replace(job, plan=plan))


def _plan_words(title: str) -> str:
    return f"Plan {title}" if len(title) <= LONGEST_TITLE else f"Plan {title[:LONGEST_TITLE]}…"


def _preconditions(view: JobView) -> str:
    needs = tuple(dict.fromkeys(v.precondition for v in view.plan_verdicts if v.precondition))
    return f"First: {', '.join(needs)}." if needs else ""


def offer_because(offer: Offer) -> Because:
    """The deciding verdict's reason, with the other rules' answers as notes."""
    own = (offer.candidate.note,) if offer.candidate.note else ()
    if not offer.verdicts:
        return Because(offer.candidate.title, "service", "A service needs no place and always fits.")
    deciding = offer.verdicts[0]
    others = tuple(_line(v) for v in offer.verdicts[1:])
    because = deciding.because
    return replace(because, title=f"{offer.candidate.title}: {because.title}", notes=(*own, *because.notes, *others))


def _line(verdict: Verdict) -> str:
    return f"{verdict.rule}: {verdict.level.words}, {verdict.sentence}."
