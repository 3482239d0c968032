"""Choose: the fit board, candidates for the chosen place with their verdicts, the plan with gain and cost."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.app.shop.price_list import with_added
from brachium.app.view.job_view import JobView
from brachium.app.view.plan_in_hand import Offer, usable_together
from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, phrase
from brachium.core.base.units import money
from brachium.core.base.why import Because
from brachium.core.choose.predict import Prediction
from brachium.core.figures.board.fit_board import COOLING, BoardState, board_height, fit_board
from brachium.core.figures.lists.candidate_list import FOLD, candidate_list
from brachium.core.figures.plots.load_bar import load_bar
from brachium.core.fit.load import load_parts
from brachium.core.fit.recorded_facts import gaps_of
from brachium.core.fit.rules.memory_size import total_claim
from brachium.core.fit.verdict import Level, Verdict
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import COOLER, PADS, PASTE, SUPPLY
from brachium.core.machine.power_parts import Supply
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.plan.asked_part import ASKED
from brachium.core.plan.candidates import Group, planned, replaces
from brachium.core.plan.shelf_items import part_of
from brachium.core.record.job import Job
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.choose.ask_line import AskLine
from brachium.ui.pages.choose.evidence_sheet import EvidenceSheet
from brachium.ui.pages.choose.fact_sheet import FactSheet
from brachium.ui.pages.choose.plan_panel import NO_RUN, PlanPanel, answer_of
from brachium.ui.pages.shop.part_sheet import MadePart, PartSheet
from brachium.ui.pages.shop.prices_page import made_item
from brachium.ui.widgets.labels import button, paragraph, restyle

BOARD_H = 270
LIST_H = 8 * 36 + 24  # eight candidates and a heading
COOLING_GROUPS = (Group.PASTE, Group.CLEANING, Group.COOLER, Group.PADS, Group.VOLTAGE)


class ChoosePage(Page):
    """A click on a place lists what could go there; Return or double click on a candidate plans or unplans it."""

    def build(self) -> None:
        self._place, self._unfolded = "", False
        self._explained: Prediction | None = None
        columns = QHBoxLayout()
        columns.setSpacing(20)
        self.plan = PlanPanel(self.session, self.figure, self.take_plan)
        columns.addLayout(self._machine_side(), 9)
        columns.addLayout(self._parts_side(), 7)
        self.body.addSpacing(4)
        self.body.addLayout(columns, 1)

    def _machine_side(self) -> QVBoxLayout:
        """The board, and below it the plans by cost and gain."""
        left = QVBoxLayout()
        left.setSpacing(10)
        self.board = self.figure()
        self.board.setMinimumSize(QSize(430, BOARD_H))
        self.board.show_selection = False
        self.board.chosen.connect(lambda region: self._choose_place(region.id))
        self.board.accept_dragged(self._dragged_over, self._dropped)
        left.addWidget(self.board)
        left.addWidget(self.plan.front_side)
        left.addStretch(1)
        return left

    def _parts_side(self) -> QVBoxLayout:
        """What could go into the chosen slot, and below it the plan in hand."""
        right = QVBoxLayout()
        right.setSpacing(2)
        self.ask = AskLine(self.session)
        self.ask.answered.connect(self._show_asked)
        right.addWidget(self.ask)
        right.addSpacing(6)
        head = QHBoxLayout()
        self._place_title = paragraph("", "section")
        head.addWidget(self._place_title, 1)
        self.facts = button("Record what is missing…", self.ask_facts, "quiet", "What the verdict waits for")
        self.evidence = button("Evidence…", self.ask_evidence, "quiet", "What speaks for and against")
        self.toggle = button("Plan it", self._toggle_selected, "primary")
        for key in (self.evidence, self.facts, self.toggle):
            head.addWidget(key)
            key.hide()
        right.addLayout(head)
        self.load = self.figure()
        self.load.hide()
        right.addWidget(self.load)
        right.addWidget(self._offers_area())
        right.addSpacing(10)
        right.addWidget(self.plan.bill_side)
        right.addStretch(1)
        return right

    def _offers_area(self) -> QScrollArea:
        """The candidates, eight of them in view."""
        self.offers = self.figure()
        self.offers.chosen.connect(self._explain_offer)
        self.offers.activated.connect(lambda region: self._toggle(region.id))
        self.offers.draggable = True
        self.offers.fits_height = True
        area = QScrollArea()
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidgetResizable(True)
        self._area = area
        inner = QWidget()
        inner.setObjectName("page")
        box = QVBoxLayout(inner)
        box.setContentsMargins(0, 0, 8, 0)
        box.addWidget(self.offers)
        box.addStretch(1)
        area.setWidget(inner)
        return area

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None:
            self.set_heading("Choose parts", "Checking what fits…")
            return
        if not self._place:
            free = next((s.id for s in job.machine.slots if s.id not in job.machine.configuration().parts), "")
            self._place = free or (job.machine.slots[0].id if job.machine.slots else COOLING)
        self.set_heading(answer_of(view), "" if view.choice.weighed is not None else NO_RUN)
        self._show_board(job, view)
        self.ask.show_job(job.id)
        self._show_offers(job, view)
        self.plan.show_view(view)
        if view.choice.prediction is not self._explained and self.isVisible():
            self.session.explain(self.default_because())
        self._explained = view.choice.prediction

    def _show_board(self, job: Job, view: JobView) -> None:
        config = planned(job.machine, view.choice.chosen())
        today = job.machine.configuration()
        levels: dict[str, Level] = {}
        for verdict in view.choice.verdicts:
            for place in verdict.places:
                if config.parts.get(place) != today.parts.get(place):
                    levels[place] = max(levels.get(place, Level.FITS), verdict.level)
        services = tuple(s.value for c in view.choice.chosen() for s in c.services)
        state = BoardState(job.machine, config, levels, services, self._place)
        self.board.setFixedHeight(max(BOARD_H, round(board_height(job.machine))))
        self.board.set_builder(lambda w, h: fit_board(state, w, h))

    def _show_asked(self) -> None:
        """What was asked about stands in the list while the question does."""
        view = self.session.view()
        if view is None:
            return
        self.offers.selected = ""
        self._show_offers(view.job, view)
        offer = self._selected(view)
        if self.ask.answer is not None and offer is not None:
            self.session.explain(offer_because(offer))

    def _for_place(self, view: JobView) -> tuple[Offer, ...]:
        if self.ask.answer is not None:
            return self.ask.answer.offers
        if self._place == COOLING:
            found = [o for o in view.choice.offers if o.candidate.group in COOLING_GROUPS]
        else:
            found = [o for o in view.choice.offers if self._place in o.candidate.places]
        return tuple(sorted(found, key=lambda o: (o.level, o.candidate.price)))

    def _show_offers(self, job: Job, view: JobView) -> None:
        offers = self._for_place(view)
        name = "paste, fins and cooler" if self._place == COOLING else lower_first(job.machine.place_label(self._place))
        asked = self.ask.answer is not None
        self._place_title.setText(say("Asked about" if asked else phrase("For {name}", name=name)))
        rows = tuple(
            (o.candidate.id, phrase("To {where}", where=o.candidate.where) if asked else o.candidate.title, o.headline,
             "" if asked else money(o.candidate.price), o.level, o.chosen,
             o.verdicts[0].because if o.verdicts else None)
            for o in offers
        )  # fmt: skip
        self.offers.set_builder(lambda w, h: candidate_list(rows, w, self._unfolded))
        self.offers.fit_height()
        self._area.setFixedHeight(min(self.offers.height() + 4, LIST_H))
        if self.offers.selected not in {o.candidate.id for o in offers} and offers:
            self.offers.selected = next((o for o in offers if o.chosen), offers[0]).candidate.id
        self._show_load(job, view)
        self._show_toggle(view)

    def _show_load(self, job: Job, view: JobView) -> None:
        """The supply's budget while its place is chosen."""
        config = planned(job.machine, view.choice.chosen())
        chip, supply = config.processor(), config.parts.get(SUPPLY)
        watts = chip.power_w if chip is not None else job.machine.processor.design_power_w
        shown = self._place == SUPPLY and watts is not None
        self.load.setVisible(shown)
        if shown and watts is not None:
            parts = load_parts(job.machine, config, watts)
            rated = supply.rated_w if isinstance(supply, Supply) else None
            self.load.set_builder(lambda w, h: load_bar(parts, rated, w))
            self.load.fit_height()

    def ask_facts(self) -> FactSheet | None:
        """Record the facts that the selected candidate's verdict waits for."""
        view = self.session.view()
        offer = self._selected(view) if view is not None else None
        if offer is None:
            return None
        sheet = FactSheet(self.window(), self.session, offer.candidate.title, gaps_of(offer.verdicts))
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def ask_evidence(self) -> EvidenceSheet | None:
        """The sources of the selected candidate's claim."""
        view, job = self.session.view(), self.session.job()
        offer = self._selected(view) if view is not None else None
        claim = claim_name(job.machine, offer) if job is not None and offer is not None else ""
        if job is None or not claim:
            return None
        sheet = EvidenceSheet(self.window(), self.session, claim, job.machine.identity.model)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def _dragged(self, candidate_id: str, place_id: str) -> Offer | None:
        """The dragged item's candidate at a place; None where it could not be put there at all."""
        view = self.session.view()
        item = candidate_id.partition("@")[0]
        here = (COOLER, PASTE, PADS) if place_id == COOLING else (place_id,)
        found = view.choice.offers if view is not None else ()
        return next(
            (
                o
                for o in found
                if o.candidate.id.partition("@")[0] == item
                and (set(here) & set(o.candidate.places) or (not o.candidate.places and place_id == COOLING))
            ),
            None,
        )

    def _dragged_over(self, candidate_id: str, place_id: str) -> str:
        """Its verdict there, at once."""
        offer = self._dragged(candidate_id, place_id)
        if offer is None:
            return "It does not go in here"
        self.session.explain(offer_because(offer))
        return phrase("{level}: {headline}", level=offer.level.words, headline=offer.headline)

    def _dropped(self, candidate_id: str, place_id: str) -> None:
        offer = self._dragged(candidate_id, place_id)
        if offer is None:
            self.session.say("That part does not go in there.")
            return
        self.board.choose(place_id)
        view = self.session.view()
        if offer.level is Level.REFUSED and view is not None:  # what was dropped is looked at
            self._unfolded = True
            self._show_offers(view.job, view)
        self.offers.choose(offer.candidate.id)
        if offer.level is Level.REFUSED:
            self.session.say(phrase("It does not fit: {headline}.", headline=offer.headline))
        elif not offer.chosen:
            self._toggle(offer.candidate.id)

    def _show_toggle(self, view: JobView) -> None:
        offer = self._selected(view)
        self.facts.setVisible(offer is not None and bool(gaps_of(offer.verdicts)))
        self.evidence.setVisible(offer is not None and bool(claim_name(view.job.machine, offer)))
        possible = offer is not None and (offer.chosen or offer.level is not Level.REFUSED)
        self.toggle.setVisible(possible)
        self.toggle.setEnabled(possible)
        if offer is None:
            return
        asked = self.ask.answer is not None
        words = "Take out" if offer.chosen else "Price it and plan it…" if asked else "Plan it"
        self.toggle.setText(say(words))
        self.toggle.setAccessibleName(say(phrase("{words}: {candidate}", words=words, candidate=offer.candidate.title)))
        restyle(self.toggle, "kind", "" if offer.chosen else "primary")

    def _selected(self, view: JobView) -> Offer | None:
        return next((o for o in self._for_place(view) if o.candidate.id == self.offers.selected), None)

    def take_plan(self, ids: tuple[str, ...]) -> None:
        """Plan these candidates and nothing else; what is unknown or refused meanwhile is left out and said."""
        job, view = self.session.job(), self.session.view()
        if job is None or view is None:
            return
        self.offers.selected = ""
        usable = usable_together(view.job.machine, view.choice.offers, ids, view.choice.around)
        if len(usable) < len(ids):
            self.session.say("A part of it is gone or does not fit; the rest is planned.")
        if any(part_of(c) for c in (*job.plan, *usable)):
            self.session.shelf.plan(job.id, "plan", usable, True)
        else:
            self.session.edit("plan taken", replace(job, plan=usable))

    def default_because(self) -> Because | None:
        view = self.session.view()
        if view is None:
            return None
        if view.choice.prediction is not None:
            return _with_unknown(view)
        offer = self._selected(view)
        return offer_because(offer, _why(view, offer)) if offer is not None else None

    def _choose_place(self, place_id: str) -> None:
        self._place, self._unfolded = place_id, False
        job, view = self.session.job(), self.session.view()
        if job is not None and view is not None:
            self.offers.selected = ""
            self._show_board(job, view)
            self._show_offers(job, view)

    def _explain_offer(self, region: object) -> None:
        view = self.session.view()
        if view is not None and self.offers.selected == FOLD:
            self._fold(view)
        if view is not None:
            self._show_toggle(view)
            offer = self._selected(view)
            if offer is not None:
                self.session.explain(offer_because(offer, _why(view, offer)))

    def _fold(self, view: JobView) -> None:
        """Show what cannot go here, or hide it again."""
        self._unfolded = not self._unfolded
        offers = self._for_place(view)
        self.offers.selected = next((o for o in offers if self._unfolded is (o.level is Level.REFUSED)),
                                    offers[0]).candidate.id  # fmt: skip
        self._show_offers(view.job, view)

    def _toggle_selected(self) -> None:
        self._toggle(self.offers.selected)

    def _toggle(self, candidate_id: str) -> None:
        job, view = self.session.job(), self.session.view()
        if self.ask.answer is not None:
            self._price_asked()
        elif job is not None and view is not None:
            offer = next((o for o in view.choice.offers if o.candidate.id == candidate_id), None)
            if offer is not None:
                self._plan(job, view, offer)

    def _plan(self, job: Job, view: JobView, offer: Offer) -> None:
        """Plan it, or take it out."""
        candidate_id = offer.candidate.id
        if offer.chosen:
            plan = tuple(p for p in job.plan if p != candidate_id)
            self._put(job, offer, plan, False)
        elif offer.level is not Level.REFUSED:
            same = {o.candidate.id for o in view.choice.offers if replaces(offer.candidate, o.candidate)}
            plan = (*(p for p in job.plan if p not in same), candidate_id)
            self._put(job, offer, plan, True)

    def _price_asked(self) -> None:
        """What was asked about comes into Parts and prices with its price, and into the plan."""
        answer, view = self.ask.answer, self.session.view()
        offer = self._selected(view) if view is not None else None
        if answer is None or answer.asked.part is None or offer is None or offer.level is Level.REFUSED:
            return
        made = MadePart(answer.asked.part, answer.asked.count, None)
        self.sheet = PartSheet(self.window(), "Price it", lambda made: self._keep_asked(offer, made), made)
        self.sheet.open()

    def _keep_asked(self, offer: Offer, made: MadePart) -> None:
        job, view, workspace = self.session.job(), self.session.view(), self.session.workspace
        if job is None or view is None:
            return
        same = {o.candidate.id for o in view.choice.offers if replaces(offer.candidate, o.candidate)}
        items = with_added(workspace.catalogue, made_item(made))
        workspace.set_catalogue(items)
        planned_id = items[-1].id + offer.candidate.id.removeprefix(ASKED)
        self.ask.edit.clear()
        self.ask.read()
        self._place, self.offers.selected = offer.candidate.places[0], planned_id
        self.session.edit(
            phrase("{title} planned", title=items[-1].title),
            replace(job, plan=(*(p for p in job.plan if p not in same), planned_id)),
        )

    def _put(self, job: Job, offer: Offer, plan: tuple[str, ...], planned_now: bool) -> None:
        """A part of the shop's own is kept for the machine, so that no other plan takes it."""
        title = offer.candidate.title
        if any(part_of(c) for c in (*job.plan, *plan)):
            self.session.shelf.plan(job.id, title, plan, planned_now)
        else:
            word = "planned" if planned_now else "taken out of the plan"
            self.session.edit(phrase("{title} {word}", title=title, word=word), replace(job, plan=plan))


def claim_name(machine: Machine, offer: Offer) -> str:
    """What evidence is about: a processor by its name, a memory total above the published one; empty where nothing."""
    if not any(v.rule in ("CPU-EVID", "MEM-TOTAL") for v in offer.verdicts):
        return ""
    chip = next((a.part for a in offer.candidate.assignments if isinstance(a.part, ProcessorPart)), None)
    if chip is not None:
        return chip.name
    total, published = planned(machine, (offer.candidate,)).memory_bytes(), machine.memory.published_max_bytes
    return total_claim(total) if published is not None and total > published else ""


def _with_unknown(view: JobView) -> Because | None:
    """The prediction's reason with its widest unknown."""
    assert view.choice.prediction is not None
    because = view.choice.prediction.because
    unknown = view.choice.weighed.unknown if view.choice.weighed is not None else None
    return (
        replace(because, notes=(phrase("{unknown}.", unknown=unknown.words), *because.notes))
        if unknown is not None
        else because
    )


def _why(view: JobView, offer: Offer) -> str:
    """Why the candidate is not in the recommended plan; empty where it is, or where nothing is predicted."""
    return view.choice.weighed.why.get(offer.candidate.id, "") if view.choice.weighed is not None else ""


def offer_because(offer: Offer, why: str = "") -> Because:
    """The deciding verdict's reason, with why it is not recommended and the other rules' answers as notes."""
    own = tuple(phrase("{n}.", n=n) for n in (why,) if n) + ((offer.candidate.note,) if offer.candidate.note else ())
    if not offer.verdicts:
        return Because(offer.candidate.title, "service", "A service always fits.", notes=own)
    deciding = offer.verdicts[0]
    others = tuple(_line(v) for v in offer.verdicts[1:])
    because = deciding.because
    return replace(
        because,
        title=phrase("{candidate}: {because}", candidate=offer.candidate.title, because=because.title),
        notes=(*own, *because.notes, *others),
    )


def _line(verdict: Verdict) -> str:
    return phrase("{rule}: {level}, {verdict}.", rule=verdict.rule, level=verdict.level.words, verdict=verdict.sentence)
