"""The one registry of commands: menu, shortcuts, shortcut sheet and finder are all made from it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from brachium.core.base.text import phrase


@dataclass(frozen=True)
class Command:
    """`enabled` answers why not, empty where it may run. `group` is its heading in menu and sheet."""

    id: str
    title: str
    group: str
    run: Callable[[], None]
    shortcut: str = ""
    icon: str = ""
    enabled: Callable[[], str] = lambda: ""
    in_menu: bool = True


class Registry:
    """Commands by id; ids and shortcuts are unique."""

    def __init__(self) -> None:
        self._commands: dict[str, Command] = {}

    def add(self, command: Command) -> None:
        """Register. Raises ValueError for a second command of the same id or shortcut."""
        if command.id in self._commands:
            raise ValueError(phrase("command {command} is registered twice", command=command.id))
        if command.shortcut and any(c.shortcut == command.shortcut for c in self._commands.values()):
            raise ValueError(phrase("shortcut {shortcut} is taken", shortcut=command.shortcut))
        self._commands[command.id] = command

    def all(self) -> tuple[Command, ...]:
        return tuple(self._commands.values())

    def get(self, command_id: str) -> Command:
        return self._commands[command_id]

    def run(self, command_id: str) -> str:
        """Run a command if it may; returns why not."""
        command = self._commands[command_id]
        reason = command.enabled()
        if not reason:
            command.run()
        return reason

    def groups(self) -> tuple[tuple[str, tuple[Command, ...]], ...]:
        names = dict.fromkeys(c.group for c in self._commands.values())
        return tuple((g, tuple(c for c in self._commands.values() if c.group == g)) for g in names)
