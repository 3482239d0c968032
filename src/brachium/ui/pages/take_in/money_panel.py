"""Money and provenance at take in: what it cost so far, what is missing, what the seller said against what is found."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal, InvalidOperation
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.typed_numbers import decimal_of
from brachium.core.base.units import money
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.record.job import Job
from brachium.core.record.provenance import ClaimState, MissingPiece, Provenance, SellerClaim
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField, Switch
from brachium.ui.widgets.labels import button, clear, label

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView

CLAIMS = tuple((s.name, upper_first(s.value)) for s in ClaimState)
WRONG_AMOUNT = "An amount such as 40 or 39.50."


class MoneyPanel(QWidget):
    """Everything is written as its field is left."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        columns = QHBoxLayout(self)
        columns.setContentsMargins(0, 8, 0, 0)
        columns.setSpacing(24)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        right.setSpacing(4)
        columns.addLayout(left, 1)
        columns.addLayout(right, 1)
        self._build_left(left)
        right.addWidget(label("What the seller said", "section"))
        self._claims = QVBoxLayout()
        right.addLayout(self._claims)
        self.claim = LineField("Add a claim", self._add_claim, "untested, new battery, works…")
        right.addWidget(self.claim)
        right.addStretch(1)

    def _build_left(self, left: QVBoxLayout) -> None:
        left.addWidget(label("What went into it", "section"))
        self.source = LineField("From", lambda text: self._set(source=text), "donor, auction, owner's own")
        self.paid = LineField("Paid, EUR", lambda text: self._amount("paid", text), "0 where it was given")
        self.shipping = LineField("Shipping, EUR", lambda text: self._amount("shipping", text))
        row = QHBoxLayout()
        row.setSpacing(16)
        left.addWidget(self.source)
        row.addWidget(self.paid)
        row.addWidget(self.shipping)
        left.addLayout(row)
        left.addSpacing(6)
        left.addWidget(label("Missing pieces to buy", "section"))
        self._pieces = QVBoxLayout()
        left.addLayout(self._pieces)
        self.piece = LineField(
            "Add a piece",
            self._add_piece,
            "adapter 19, caddy, screws 2.50",
            "Name and price, or open",
        )
        left.addWidget(self.piece)
        left.addSpacing(8)
        self.sums = label("", "title", True)
        self.open = label("", "warm", True)
        left.addWidget(self.sums)
        left.addWidget(self.open)
        left.addStretch(1)

    def show_job(self, job: Job, view: JobView | None) -> None:
        came = job.provenance
        state = (job.id, came, view.choice.cost.total if view is not None else None)
        if state == self._shown:
            return
        self._shown = state
        self.source.show_value(came.source)
        self.paid.show_value("" if came.paid is None else phrase("{paid:f}", paid=came.paid))
        self.shipping.show_value("" if came.shipping is None else phrase("{shipping:f}", shipping=came.shipping))
        for field in (self.piece, self.claim):
            field.edit.clear()
        clear(self._pieces)
        for index, piece in enumerate(came.missing):
            price = "price open" if piece.price is None else money(piece.price)
            self._pieces.addLayout(self._line(piece.what, price, partial(self._drop, "missing", index)))
        clear(self._claims)
        for index, claim in enumerate(came.claims):
            self._claims.addLayout(self._claim(index, claim))
        plan = view.choice.cost.total if view is not None else Decimal(0)
        self.sums.setText(
            say(
                phrase(
                    "{spent} so far, {spent2} with the plan",
                    spent=money(came.spent()),
                    spent2=money(came.spent() + plan),
                )
            )
        )
        waiting = came.open_amounts()
        self.open.setText(
            say(phrase("At least: the price of {waiting} is open.", waiting=joined(", ", waiting)) if waiting else "")
        )

    def because(self, job: Job, view: JobView | None) -> Because:
        """How the sum came about."""
        came = job.provenance
        facts = [
            Fact("paid", money(came.paid) if came.paid is not None else "not known", Origin.TYPED),
            Fact("shipping", money(came.shipping) if came.shipping is not None else "not known", Origin.TYPED),
        ]
        facts += [Fact(p.what, money(p.price) if p.price is not None else "open", Origin.TYPED) for p in came.missing]
        if view is not None:
            facts.append(Fact("plan, parts and work", money(view.choice.cost.total), Origin.COMPUTED))
        broken = came.broken_claims()
        notes = (phrase("The seller's word does not hold: {broken}.", broken=joined("; ", broken)),) if broken else ()
        return Because(
            "What went into it",
            "money",
            "Purchase and missing pieces, then parts and work.",
            tuple(facts),
            money(came.spent() + (view.choice.cost.total if view is not None else Decimal(0))),
            "An open price, another plan.",
            notes,
        )

    def _line(self, text: str, value: str, drop: Callable[[], None]) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(label(text), 1)
        row.addWidget(label(value, "soft"))
        remove = button("×", drop, "quiet", phrase("Take {text} out", text=text))
        remove.setAccessibleName(say(phrase("Take {text} out", text=text)))
        row.addWidget(remove)
        return row

    def _claim(self, index: int, claim: SellerClaim) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(label(claim.text, "", True), 1)
        choice = Switch(CLAIMS, lambda key: self._judge(index, ClaimState[key]), claim.text)
        choice.show_value(claim.state.name)
        row.addWidget(choice)
        remove = button("×", lambda: self._drop("claims", index), "quiet", "Take the claim out")
        remove.setAccessibleName(say(phrase("Take {claim} out", claim=claim.text)))
        row.addWidget(remove)
        return row

    # -- edits

    def _came(self) -> Provenance:
        job = self._session.job()
        return job.provenance if job is not None else Provenance()

    def _set(self, **changes: object) -> None:
        job = self._session.job()
        if job is not None:
            came = replace(job.provenance, **changes)  # type: ignore[arg-type]
            self._session.edit("money changed", replace(job, provenance=came))

    def _amount(self, key: str, text: str) -> str | None:
        try:
            self._set(**{key: amount(text) if text else None})
        except InvalidOperation:
            return WRONG_AMOUNT
        return None

    def _add_piece(self, text: str) -> str | None:
        if not text:
            return None
        name, _, last = text.rpartition(" ")
        try:
            piece = MissingPiece(name.strip(), amount(last)) if name else MissingPiece(text)
        except InvalidOperation:
            piece = MissingPiece(text)
        self._set(missing=(*self._came().missing, piece))
        return None

    def _add_claim(self, text: str) -> str | None:
        if text:
            self._set(claims=(*self._came().claims, SellerClaim(text)))
        return None

    def _judge(self, index: int, state: ClaimState) -> None:
        claims = list(self._came().claims)
        claims[index] = replace(claims[index], state=state)
        self._set(claims=tuple(claims))

    def _drop(self, key: str, index: int) -> None:
        rows = getattr(self._came(), key)
        self._set(**{key: rows[:index] + rows[index + 1 :]})


def amount(text: str) -> Decimal:
    """A typed amount that is not negative. Raises InvalidOperation."""
    value = decimal_of(text.replace(",", ".").removesuffix("EUR").strip())
    if value is None or value < 0:
        raise InvalidOperation
    return value
