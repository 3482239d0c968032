"""Evidence for a claim, source by source: what each adds in log-odds, the sum against the shop's threshold."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.rules import keep_claim
from brachium.app.shop.workspace import now_text
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.fit.assumptions import PRIOR
from brachium.core.fit.evidence import WEIGHTS, claim_for, log_odds, probability
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind
from brachium.formats.shop_documents import CLAIMS
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import button, clear, label, paragraph


class EvidenceSheet(QDialog):
    """Writes at once. The shop's own finished jobs are counted by themselves. Escape closes."""

    def __init__(self, parent: QWidget, session: Session, part: str, model: str) -> None:
        super().__init__(parent)
        self._session, self._part, self._model = session, part, model
        self.setWindowTitle(say("Evidence"))
        self.setMinimumWidth(620)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label(phrase("{part} works in {model}", part=part, model=model or "this model"), "title"))
        self.sum = paragraph("", "soft")
        layout.addWidget(self.sum)
        self.rows = QGridLayout()
        self.rows.setHorizontalSpacing(16)
        self.rows.setVerticalSpacing(2)
        layout.addLayout(self.rows)
        self.kind = ChoiceField("Kind of source", [(k.value, _weighted(k)) for k in SourceKind], lambda _: None)
        self.works = ChoiceField("Says", [("works", "it works"), ("fails", "it fails")], lambda _: None)
        self.who = LineField("Who says so", lambda _: None, "a desk, a paper, a forum name")
        self.note = LineField("Link or note", lambda _: None, "copies of one source share their note")
        row = QHBoxLayout()
        for w in (self.kind, self.works, self.who, self.note):
            row.addWidget(w, 2 if w is self.kind else 1)
        layout.addLayout(row)
        foot = QHBoxLayout()
        self.add = button("Add this source", self._add, "primary")
        foot.addWidget(self.add)
        foot.addStretch(1)
        foot.addWidget(button("Done", self.close))
        layout.addLayout(foot)
        self._show()

    def _kept(self) -> CompatibilityClaim:
        return claim_for(self._session.workspace.kept(CLAIMS), self._part, self._model)

    def _add(self) -> None:
        source = Source(
            SourceKind(self.kind.box.currentData()), self.works.box.currentData() == "works", now_text()[:10],
            self.who.edit.text().strip(), self.note.edit.text().strip(),
        )  # fmt: skip
        self._put((*self._kept().sources, source))
        for field in (self.who, self.note):
            field.edit.clear()

    def _put(self, sources: tuple[Source, ...]) -> None:
        keep_claim(self._session.workspace, replace(self._kept(), sources=sources))
        self._session.workspace.refresh(self._session.job_id)
        self._show()

    def _remove(self, at: int) -> None:
        sources = self._kept().sources
        self._put((*sources[:at], *sources[at + 1 :]))

    def _own_jobs(self) -> tuple[Source, ...]:
        """Finished jobs of the model, as the view counted them beside the window."""
        view = self._session.view()
        claims = view.choice.around.claims if view is not None else ()
        return tuple(s for s in claim_for(claims, self._part, self._model).sources if s.kind is SourceKind.OWN_JOB)

    def _show(self) -> None:
        clear(self.rows)
        kept = self._kept()
        claim = replace(kept, sources=(*kept.sources, *self._own_jobs()))
        for at, source in enumerate(claim.sources):
            weight = WEIGHTS[source.kind] * (1.0 if source.works else -1.0)
            texts = (source.kind.value, "works" if source.works else "fails", source.who, source.date, source.note,
                     phrase("{weight:+.1f}", weight=weight))  # fmt: skip
            for column, text in enumerate(texts):
                self.rows.addWidget(label(text, "" if column in (0, 5) else "soft"), at, column)
            if at < len(kept.sources):
                self.rows.addWidget(button("×", lambda k=at: self._remove(k), "quiet", "Take this source away"), at, 6)  # type: ignore[misc]
        threshold = self._session.workspace.shop_rules().threshold
        enough = probability(claim.sources) >= threshold
        end = "enough for the shop" if enough else "not enough for the shop"
        start = phrase(
            "From {prior:g} on, with the caps, the list adds up to {log_odds:+.1f}",
            prior=PRIOR,
            log_odds=log_odds(claim.sources),
        )
        self.sum.setText(
            say(
                phrase(
                    "{start}: {end}, which asks for {threshold:.2f} (here {probability:.2f}).",
                    start=start,
                    end=end,
                    threshold=threshold,
                    probability=probability(claim.sources),
                )
            )
        )


def _weighted(kind: SourceKind) -> str:
    return phrase("{kind}, {weights:+.1f}", kind=kind.value, weights=WEIGHTS[kind])
