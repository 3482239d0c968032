"""What opens over the window: the menu folded into the header, the finder, the sheet of keys."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMenu

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.ui.shell.overlays import Finder, ShortcutSheet
from brachium.ui.shell.shell import Shell


def show_menu(w: Shell) -> None:
    """All commands by group, below the menu button."""
    menu = QMenu(w.window())
    for group, commands in w.registry.groups():
        shown = [c for c in commands if c.in_menu]
        if shown:
            menu.addSeparator()
            menu.addSection(say(group))
        for command in shown:
            action = menu.addAction(
                say(phrase("{command}	{shortcut}", command=command.title, shortcut=command.shortcut))
            )
            action.setEnabled(not command.enabled())
            action.triggered.connect(lambda _=False, c=command.id: w.run_command(c))
    button = w.header.menu_button()
    menu.exec(button.mapToGlobal(button.rect().bottomLeft()))


def show_finder(w: Shell) -> Finder:
    """Machines and commands by their words, over the header."""
    jobs = [(c.name, "machine", lambda j=c.id: w.session.select_job(j)) for c in w.session.workspace.cards()]
    commands = [(c.title, c.shortcut, lambda c=c: w.run_command(c.id)) for c in w.registry.all() if c.id != "find"]
    finder = Finder(w.window(), (*jobs, *commands))
    corner = w.window().mapToGlobal(w.window().rect().topRight())
    finder.move(corner.x() - finder.width() - 60, corner.y() + 46)
    finder.show()
    finder.line.setFocus()
    return finder


def show_keys(w: Shell) -> ShortcutSheet:
    sheet = ShortcutSheet(w.window(), w.registry)
    sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    sheet.show()
    return sheet
