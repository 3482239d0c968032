"""Plans on Choose: the plan front on one side, the plan in hand as a bill with its odds on the other."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.view.job_view import JobView
from brachium.app.view.weighed_plans import WeighedPlans
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.units import OWN_CURRENCY, minutes, money, ratio
from brachium.core.choose.front import TargetsAsked
from brachium.core.choose.plans import MOST_KEPT, free_name
from brachium.core.figures.base.drawing import Region
from brachium.core.figures.lists.bill import BillState, bill
from brachium.core.figures.plots.plan_front import FrontState, plan_front
from brachium.core.record.kept_plans import NamedPlan
from brachium.ui.pages.choose.accept_sheet import AcceptSheet
from brachium.ui.pages.choose.money_sheet import MoneySheet
from brachium.ui.pages.choose.other_machine_sheet import OtherMachineSheet
from brachium.ui.pages.choose.plans_sheet import PlansSheet
from brachium.ui.pages.choose.system_sheet import SystemSheet
from brachium.ui.pages.choose.use_sheet import UseSheet
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import PlainChoice
from brachium.ui.widgets.labels import button, label, paragraph

MORE = (
    ("", "More…"), ("other", "Another machine"), ("use", "Use of time"), ("money", "Minutes, resale, energy"),
    ("system", "System to run"), ("meets", "Take the cheapest that meets the targets"),
    ("targets", "Ask for the targets, or not"),
)  # fmt: skip
FRONT_H = 284  # the whole front stays in view
NO_RUN = "No before-run, so no gain is predicted."


class PlanPanel:
    """The page lays out `front_side` and `bill_side`; `take` puts a plan, as ids of candidates, into the record."""

    def __init__(
        self, session: Session, figure: Callable[[], DrawingView], take: Callable[[tuple[str, ...]], object]
    ) -> None:  # fmt: skip
        self._session, self._take = session, take
        self.front_side, self.bill_side = QWidget(), QWidget()
        left, right = QVBoxLayout(self.front_side), QVBoxLayout(self.bill_side)
        for column in (left, right):
            column.setContentsMargins(0, 0, 0, 0)
            column.setSpacing(2)
        head = QHBoxLayout()
        self._front_title = paragraph("", "section")
        head.addWidget(self._front_title, 1)
        self.recommended = button("Take the best value", self.take_recommended, "quiet", "The plan that is marked full")
        head.addWidget(self.recommended)
        self.more = PlainChoice(MORE, self.show_more, "More about this plan", narrow=True)
        head.addWidget(self.more)
        left.addLayout(head)
        self.front = figure()
        self.front.setMinimumWidth(380)
        self.front.setFixedHeight(FRONT_H)
        self.front.show_selection = False
        self.front.activated.connect(self._load)
        left.addWidget(self.front, 1)
        top = QHBoxLayout()
        self._title = label("Plan", "section", True)
        top.addWidget(self._title, 1)
        tip = "Keep this plan, to compare up to four"
        self.keep = button("Keep", self.keep_plan, "quiet", tip)
        self.kept = PlainChoice((("", "Kept plans…"),), self._load_kept, "Kept plans")
        self.compare = button("Compare", self.show_plans, "quiet")
        self.accept = button("Accept with a reason…", self.ask_acceptance, "", "Not known, or limited by power")
        for w in (self.keep, self.kept, self.compare):
            top.addWidget(w)
        right.addLayout(top)
        self._cost = label("", "warm", True)
        right.addWidget(self._cost)
        self.list = figure()
        self.list.fits_height = True
        self.list.setMinimumSize(QSize(260, 60))
        right.addWidget(self.list)
        self.note = paragraph("", "soft")
        right.addWidget(self.note)
        row = QHBoxLayout()
        row.addWidget(self.accept)
        row.addStretch(1)
        right.addLayout(row)

    def show_view(self, view: JobView) -> None:
        """Front and plan of a view."""
        choice = view.choice.weighed
        for w in (self.front, self.recommended):
            w.setVisible(choice is not None)
        self._show_front(view, choice)
        self._show_plan(view, choice)
        self._show_kept(view)

    def _show_front(self, view: JobView, choice: WeighedPlans | None) -> None:
        if choice is None:
            self._front_title.setText("")
            self.front.set_builder(None)
            return
        front = choice.front
        met = front.targets is TargetsAsked.MET
        words = ", these meet the targets" if met else ""
        self._front_title.setText(
            say(phrase("Cost against gain: {admissible} plans fit{words}", admissible=front.admissible, words=words))
        )
        self.recommended.setVisible(set(front.recommended.ids) != set(view.job.plan))
        job = view.job
        state = FrontState(
            front, choice.bands, choice.titles, choice.present, job.kept_plans,
            float(job.budget) if job.budget is not None else None, job.other_machine,
            view.choice.partly_unknown,
        )  # fmt: skip
        self.front.set_builder(lambda w, h: plan_front(state, w, h))

    def _show_plan(self, view: JobView, choice: WeighedPlans | None) -> None:
        cost = view.choice.cost
        chosen = view.choice.chosen()
        self.keep.setEnabled(bool(chosen))
        self.accept.setVisible(bool(view.choice.unsettled))
        if not chosen:
            self._title.setText(say("Nothing is planned yet"))
            self._cost.hide()
            also = "; or press a point of the front twice" if choice is not None else ""
            self.note.setText(say(phrase("Choose a slot, then a part{also}.", also=also)))
            self.list.set_builder(None)
            self.list.hide()
            return
        budget = view.job.budget
        over = budget is not None and cost.total > budget
        name = next((k.name for k in view.job.kept_plans if set(k.ids) == set(view.job.plan)), "Plan in hand")
        self._title.setText(say(name))
        self._cost.setText(
            say(phrase("Over the budget of {budget}", budget=money(budget)) if over and budget is not None else "")
        )
        self._cost.setVisible(over)
        self.note.setText(say(joined(" ", (t for t in (_waits(view), _preconditions(view), _worth(choice)) if t))))
        self.note.setVisible(bool(self.note.text()))
        state = BillState(
            tuple((c.id, c.title, c.price) for c in chosen), cost, OWN_CURRENCY, view.choice.prediction,
            choice.odds if choice is not None else (),
        )  # fmt: skip
        self.list.show()
        self.list.set_builder(lambda w, h: bill(state, w))
        self.list.fit_height()

    def _show_kept(self, view: JobView) -> None:
        kept = view.job.kept_plans
        self.kept.clear()
        self.kept.addItem(say("Kept plans…"), "")
        for plan in kept:
            self.kept.addItem(say(plan.name), plan.name)
        self.kept.setVisible(bool(kept))
        self.compare.setVisible(bool(kept))
        known = [set(k.ids) for k in kept] + [set[str]()]
        self.keep.setVisible(set(view.job.plan) not in known and len(kept) < MOST_KEPT)

    def ask_acceptance(self) -> AcceptSheet | None:
        """Take what is not known, or limited by power, on with a reason."""
        view = self._session.view()
        if view is None or not view.choice.unsettled:
            return None
        sheet = AcceptSheet(self.bill_side.window(), self._session, view.choice.unsettled)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def take_recommended(self) -> None:
        """Put the recommended plan into the record."""
        view = self._session.view()
        if view is not None and view.choice.weighed is not None:
            self._take(view.choice.weighed.front.recommended.ids)

    def _load(self, region: Region) -> None:
        if region.id.startswith("plan:"):
            self._take(tuple(i for i in region.id.removeprefix("plan:").split("+") if i))

    def keep_plan(self) -> None:
        """Keep the plan in hand under the next letter."""
        job = self._session.job()
        if job is not None and job.plan and len(job.kept_plans) < MOST_KEPT:
            named = NamedPlan(free_name(job.kept_plans), job.plan)
            self._session.edit(
                phrase("{named} kept", named=named.name), replace(job, kept_plans=(*job.kept_plans, named))
            )

    def _load_kept(self, name: str) -> None:
        job = self._session.job()
        plan = next((k for k in job.kept_plans if k.name == name), None) if job is not None else None
        if plan is not None:
            self._take(plan.ids)

    def show_plans(self) -> PlansSheet:
        """The kept plans side by side."""
        sheet = PlansSheet(self.bill_side.window(), self._session, self._take)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def _ask_targets(self) -> None:
        """Leave plans that miss a target out of the front, or show them."""
        job = self._session.job()
        if job is not None:
            asked = not job.targets_asked
            words = "misses are left out" if asked else "plans are shown whether they meet targets"
            self._session.edit(words, replace(job, targets_asked=asked))
            self._session.say(phrase("From now on {words}.", words=words))

    def show_more(self, key: str) -> QDialog | None:
        """One of the sheets beside the plan."""
        self.more.setCurrentIndex(0)
        view = self._session.view()
        if key == "meets" and view is not None and view.choice.weighed is not None:
            if view.choice.weighed.meets:
                self._take(view.choice.weighed.meets)
            else:
                self._session.say(view.choice.weighed.targets_say or "No target can be predicted.")
        if key == "targets":
            self._ask_targets()
        kinds = {"other": OtherMachineSheet, "use": UseSheet, "money": MoneySheet, "system": SystemSheet}
        if key not in kinds or self._session.job() is None:
            return None
        sheet: QDialog = kinds[key](self.bill_side.window(), self._session)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet


def answer_of(view: JobView) -> str:
    """The page's answer: what the plan in hand brings for its money and time, or what could be had."""
    choice, cost = view.choice.weighed, view.choice.cost
    price = phrase(
        "{total} and {attended_min} of yours", total=money(cost.total), attended_min=minutes(cost.attended_min)
    )
    if view.choice.chosen():
        prediction = view.choice.prediction
        if prediction is None or all(c.unknown for c in prediction.contributions):
            return phrase("Planned: {price}", price=price)
        more = " and more" if any(c.unknown for c in prediction.contributions) else ""
        return phrase("{mid} work per time{more} for {price}", mid=ratio(prediction.band.mid), more=more, price=price)
    if choice is None:
        return "Choose what fits"
    best = choice.front.recommended
    if not best.ids:
        known = len(choice.front.plans) > 1  # plans whose gain can be told, beside today's machine
        return "Nothing is worth its money" if known else "Nothing that fits brings more"
    return phrase("Best value: {gain} work per time for {cost:.0f} EUR", gain=ratio(best.gain), cost=best.cost)


def _waits(view: JobView) -> str:
    """What the plan waits for before work may begin."""
    if not view.choice.unsettled:
        return ""
    first = view.choice.unsettled[0]
    more = phrase(" and {count} more", count=len(view.choice.unsettled) - 1) if len(view.choice.unsettled) > 1 else ""
    return phrase("Waits for your word: {rule}, {first}{more}.", rule=first.rule, first=first.sentence, more=more)


def _preconditions(view: JobView) -> str:
    needs = tuple(dict.fromkeys(v.precondition for v in view.choice.verdicts if v.precondition))
    return phrase("First: {needs}.", needs=joined(", ", needs)) if needs else ""


def _worth(choice: WeighedPlans | None) -> str:
    if choice is None:
        return ""
    return joined(" ", (phrase("{t}.", t=t) for t in (choice.targets_say, choice.worth) if t))
