"""How much paste and how many pads: amount, weight, cost, to scale; what a fresh layer may bring here."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.app.view.job_view import JobView
from brachium.app.view.paste_expectation import layer_found
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.base.units import money
from brachium.core.figures.plots.paste_figure import paste_figure
from brachium.core.machine.cooling_parts import Paste
from brachium.core.machine.machine import Machine
from brachium.core.record.work.pads import PadRow
from brachium.core.record.work.paste import Contact, Method, PasteLayer
from brachium.core.work.assumptions import DENSITY_G_CM3
from brachium.core.work.pads import pad_sums, pads_text, read_pads
from brachium.core.work.paste import DEFAULT, Amount, contact_of, paste_amount
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.number_fields import number_field


class PasteSheet(QDialog):
    """Area, layer and pads go into the record. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        job = session.job()
        machine = job.machine if job is not None else Machine()
        usual = PasteLayer(contact_of(machine), DEFAULT[contact_of(machine)])
        self._layer = job.paste if job is not None and job.paste is not None else usual
        self._sheet_price = Decimal(0)
        self.setWindowTitle(say("How much paste"))
        self.setMinimumWidth(660)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("How much paste", "title"))
        self.area = number_field("Contact [mm²]", 1, 10_000, self._set_area, "such as 900", "Length times width")
        self.contact = ChoiceField("Kind", [(c.value, c.value) for c in Contact], self._set_contact)
        self.method = ChoiceField("Method", [(m.value, m.value) for m in Method],
                                  lambda key: self._change(method=Method(key)))  # fmt: skip
        self.price = number_field("Price [EUR/g]", 0, 100, lambda v: self._change(price_per_g=v), "such as 2.50")
        self.conductivity = number_field("Stated [W/m·K]", 0.1, 100,
                                         lambda v: self._change(conductivity=None if v is None else float(v)),
                                         "from the tube")  # fmt: skip
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        for k, w in enumerate((self.area, self.contact, self.method, self.price, self.conductivity)):
            grid.addWidget(w, k // 3, k % 3)
            grid.setColumnStretch(k % 3, 1)
        layout.addLayout(grid)
        row = QHBoxLayout()
        self.figure = DrawingView(minimum=QSize(196, 196))
        self.answer = paragraph("")
        row.addWidget(self.figure)
        row.addWidget(self.answer, 1)
        layout.addLayout(row)
        self._build_pads(layout)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(foot)
        session.view_arrived.connect(self._arrived)
        self._show()

    def _build_pads(self, layout: QVBoxLayout) -> None:
        layout.addWidget(label("Pads", "title"))
        self.pads = LineField("Thickness: pieces x width x length, in mm", self._set_pads, "1.0: 4 x 15 x 20",
                              "One entry a size, parted by semicolons")  # fmt: skip
        self.sheet_price = number_field("Sheet of 100 x 100 mm [EUR]", 0, 200, self._set_sheet_price, "such as 9")
        row = QHBoxLayout()
        row.addWidget(self.pads, 3)
        row.addWidget(self.sheet_price, 1)
        layout.addLayout(row)
        self.pad_answer = paragraph("", "soft")
        layout.addWidget(self.pad_answer)

    def _arrived(self, job_id: str) -> None:
        if job_id == self._session.job_id and self.isVisible():
            self._show()

    def _area(self) -> float | None:
        job = self._session.job()
        return job.machine.platform.contacts.area_mm2 if job is not None else None

    def _set_area(self, value: Decimal | None) -> None:
        job = self._session.job()
        if job is not None:
            contacts = replace(job.machine.platform.contacts, area_mm2=None if value is None else float(value))
            machine = replace(job.machine, platform=replace(job.machine.platform, contacts=contacts))
            self._session.edit("contact area recorded", replace(job, machine=machine))
        self._show()

    def _density(self) -> float:
        """Of the planned paste where its entry states it, else a usual one [g/cm3]."""
        view = self._session.view()
        parts = [a.part for c in view.choice.chosen() for a in c.assignments] if view is not None else []
        stated = next((p.density_g_cm3 for p in parts if isinstance(p, Paste) and p.density_g_cm3), None)
        return self._layer.density or stated or DENSITY_G_CM3

    def _set_contact(self, key: str) -> None:
        self._change(contact=Contact(key), method=DEFAULT[Contact(key)])

    def _change(self, **changes: object) -> None:
        """The layer as it is put on; recorded from the first change on."""
        self._layer = replace(self._layer, when=now_text(), **changes)  # type: ignore[arg-type]
        job = self._session.job()
        if job is not None:
            self._session.edit("layer of paste recorded", replace(job, paste=self._layer))
        self._show()

    def _set_pads(self, text: str) -> str | None:
        try:
            rows = read_pads(text)
        except ValueError as error:
            return phrase("{error}.", error=error)
        job = self._session.job()
        if job is not None:
            self._session.edit("pads recorded", replace(job, pads=rows))
        self._show()
        return None

    def _set_sheet_price(self, value: Decimal | None) -> None:
        self._sheet_price = value or Decimal(0)
        self._show()

    def _show(self) -> None:
        job, layer = self._session.job(), self._layer
        area = self._area()
        self.area.show_value(phrase("{area:g}", area=area) if area else "")
        self.contact.show_value(layer.contact.value)
        self.method.show_value(layer.method.value)
        self.price.show_value(phrase("{price_per_g:f}", price_per_g=layer.price_per_g) if layer.price_per_g else "")
        self.conductivity.show_value(
            phrase("{conductivity:g}", conductivity=layer.conductivity) if layer.conductivity else ""
        )
        view = self._session.view()
        found = layer_words(view) if view is not None else ""
        if area:
            amount = paste_amount(area, layer.contact, layer.price_per_g or Decimal(0), self._density(),
                                  layer.conductivity)  # fmt: skip
            self.figure.set_builder(lambda w, h: paste_figure(area, amount, layer.method))
            words = amount_words(amount, layer.method, bool(layer.price_per_g))
        else:
            self.figure.set_builder(None)
            words = "Measure the contact: length times width."
        self.answer.setText(say(phrase("{words}\n{found}", words=words, found=found).strip()))
        rows = job.pads if job is not None else ()
        self.pads.show_value(pads_text(rows))
        self.pad_answer.setText(say(pad_words(rows, self._sheet_price)))


def layer_words(view: JobView) -> str:
    """What a fresh layer is expected to bring on this machine, and what it brought once there is an after-run."""
    found = layer_found(view)
    lines = [found.expected]
    if found.measured:
        lines.append(found.measured)
    return joined("\n", lines)


def pad_words(rows: tuple[PadRow, ...], sheet_price: Decimal) -> str:
    """Sheets by thickness."""
    if not rows:
        return "Measure the old pads first: another thickness lifts the cooler."
    out = []
    for pad in pad_sums(rows, sheet_price=sheet_price):
        cost = phrase(", {cost}", cost=money(pad.cost)) if sheet_price else ""
        out.append(
            phrase(
                "{thickness_mm:g} mm: {area_cm2:.0f} cm² with offcuts, {sheets}{cost}",
                thickness_mm=pad.thickness_mm,
                area_cm2=pad.area_cm2,
                sheets=many(pad.sheets, "sheet"),
                cost=cost,
            )
        )
    return joined("; ", out) + "."


def amount_words(amount: Amount, method: Method, priced: bool) -> str:
    """The amount in two or three lines."""
    (v1, v2), (g1, g2) = amount.volume_mm3, amount.weight_g
    lines = [
        phrase(
            "{v1:.0f} to {v2:.0f} mm³, {g1:.2f} to {g2:.2f} g, as {method}.",
            v1=v1,
            v2=v2,
            g1=g1,
            g2=g2,
            method=method.value,
        )
    ]
    if method is Method.DOT:
        lines.append(phrase("A dot {dot_mm:.1f} mm across holds the larger.", dot_mm=amount.dot_mm))
    if priced:
        lines.append(phrase("Costs {cost}.", cost=money(amount.cost)))
    if amount.least_k_w is not None:
        lines.append(
            phrase(
                "Not under {least_k_w:.3f} K/W for the fresh layer; the tube's figure predicts no gain, the "
                "after-run tells.",
                least_k_w=amount.least_k_w,
            )
        )
    return joined("\n", lines)
