"""How much paste: by the contact's area and kind, as volume, weight and cost, drawn to scale for the method."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.figures.paste_figure import paste_figure
from brachium.core.machine.machine import Machine, MachineKind
from brachium.core.units import money
from brachium.core.work.paste import DEFAULT, Amount, Contact, Method, paste_amount
from brachium.ui.pages.number_fields import number_field
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import ChoiceField
from brachium.ui.widgets.labels import button, label, paragraph


class PasteSheet(QDialog):
    """The area goes into the record; the rest is for this layer. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self._price, self._conductivity = Decimal(0), 0.0
        job = session.job()
        machine = job.machine if job is not None else Machine()
        self.setWindowTitle("How much paste")
        self.setMinimumWidth(560)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("How much paste", "title"))
        self.area = number_field("Contact [mm²]", 1, 10_000, self._set_area, "such as 900", "Length times width")
        self.contact = ChoiceField("Kind", [(c.value, c.value) for c in Contact], self._set_contact)
        self.method = ChoiceField("Method", [(m.value, m.value) for m in Method], lambda _: self._show())
        self.price = number_field("Price [EUR/g]", 0, 100, self._set_price, "such as 2.50")
        self.conductivity = number_field("Stated [W/m·K]", 0.1, 100, self._set_conductivity, "from the tube")
        self.contact.show_value(contact_of(machine).value)
        self.method.show_value(DEFAULT[contact_of(machine)].value)
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        for k, w in enumerate((self.area, self.contact, self.method, self.price, self.conductivity)):
            grid.addWidget(w, k // 3, k % 3)
        layout.addLayout(grid)
        row = QHBoxLayout()
        self.figure = DrawingView(minimum=QSize(196, 196))
        self.answer = paragraph("")
        row.addWidget(self.figure)
        row.addWidget(self.answer, 1)
        layout.addLayout(row)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(foot)
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

    def _set_contact(self, key: str) -> None:
        self.method.show_value(DEFAULT[Contact(key)].value)
        self._show()

    def _set_price(self, value: Decimal | None) -> None:
        self._price = value or Decimal(0)
        self._show()

    def _set_conductivity(self, value: Decimal | None) -> None:
        self._conductivity = float(value or 0)
        self._show()

    def _show(self) -> None:
        area = self._area()
        self.area.show_value(f"{area:g}" if area else "")
        if not area:
            self.figure.set_builder(None)
            self.answer.setText("Measure the contact: length times width. Nothing is assumed for it.")
            return
        contact = Contact(str(self.contact.box.currentData()))
        method = Method(str(self.method.box.currentData()))
        amount = paste_amount(area, contact, self._price, conductivity=self._conductivity or None)
        self.figure.set_builder(lambda w, h: paste_figure(area, amount, method))
        self.answer.setText(amount_words(amount, method, self._price > 0))


def contact_of(machine: Machine) -> Contact:
    """What lies under the cooler, as far as it is recorded; portables have bare dies."""
    contacts = machine.platform.contacts
    if contacts.pipe_grooves:
        return Contact.PIPES
    bare = contacts.bare_die if contacts.bare_die is not None else machine.kind is MachineKind.LAPTOP
    return Contact.DIE if bare else Contact.SPREADER


def amount_words(amount: Amount, method: Method, priced: bool) -> str:
    """The amount in two or three lines."""
    (v1, v2), (g1, g2) = amount.volume_mm3, amount.weight_g
    lines = [f"{v1:.0f} to {v2:.0f} mm³, {g1:.2f} to {g2:.2f} g, as {method.value}."]
    if method is Method.DOT:
        lines.append(f"A dot {amount.dot_mm:.1f} mm across holds the larger amount.")
    if priced:
        lines.append(f"Costs {money(amount.cost)}.")
    if amount.least_k_w is not None:
        lines.append(f"The fresh layer cannot have less than {amount.least_k_w:.3f} K/W; both boundaries come on top, "
                     "so the tube's figure foretells no gain. The after-run will tell.")  # fmt: skip
    return "\n".join(lines)
