"""The window as its commands see it."""

from __future__ import annotations

from typing import Protocol

from PySide6.QtWidgets import QWidget

from brachium.ui.commands import Registry
from brachium.ui.session import Session
from brachium.ui.shell.because_panel import BecausePanel
from brachium.ui.shell.file_actions import FileActions
from brachium.ui.shell.header import Header
from brachium.ui.shell.next_bar import NextBar
from brachium.ui.shell.record_actions import RecordActions
from brachium.ui.shell.shop_pages import ShopPages
from brachium.ui.shell.stage_pages import StagePages


class Shell(Protocol):
    """What a command may ask of the window that it acts on."""

    session: Session
    registry: Registry
    records: RecordActions
    files: FileActions
    pages: StagePages
    shop_pages: ShopPages
    header: Header
    because: BecausePanel
    next: NextBar
    rail_folded: bool

    def window(self) -> QWidget: ...

    def close(self) -> bool: ...

    def run_command(self, command_id: str) -> None: ...

    def show_page(self, explain: bool = True) -> None: ...

    def show_shop(self, page_id: str) -> None: ...

    def search_rail(self) -> None: ...

    def fold_rail(self, folded: bool) -> None: ...

    def set_look(self, look: str) -> None: ...
