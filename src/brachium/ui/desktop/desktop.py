"""What the window asks of the desktop it runs on: a notice, and that the screen is not locked while a run measures."""

from __future__ import annotations

from typing import Protocol

from PySide6.QtDBus import QDBusConnection, QDBusInterface, QDBusMessage

NOTICES = ("org.freedesktop.Notifications", "/org/freedesktop/Notifications", "org.freedesktop.Notifications")
SCREEN = ("org.freedesktop.ScreenSaver", "/org/freedesktop/ScreenSaver", "org.freedesktop.ScreenSaver")
NAME = "Brachium"
SHOWN_MS = 15_000


class Desktop(Protocol):
    """Both answer nothing: what a desktop cannot do is left undone."""

    def notify(self, title: str, text: str) -> None: ...

    def hold_screen(self, why: str) -> None: ...

    def release_screen(self) -> None: ...


class QuietDesktop:
    """Stands in where there is no session bus; remembers what was asked."""

    def __init__(self) -> None:
        self.notices: list[tuple[str, str]] = []
        self.held = ""

    def notify(self, title: str, text: str) -> None:
        self.notices.append((title, text))

    def hold_screen(self, why: str) -> None:
        self.held = why

    def release_screen(self) -> None:
        self.held = ""


class BusDesktop:
    """Through the session bus (freedesktop.org: Desktop Notifications 1.2, Idle Inhibition Service draft)."""

    def __init__(self, bus: QDBusConnection) -> None:
        self._notices = QDBusInterface(*NOTICES, bus)
        self._screen = QDBusInterface(*SCREEN, bus)
        self._cookie: object = None

    def notify(self, title: str, text: str) -> None:
        arguments = [NAME, 0, "org.brachium.Brachium", title, text, [], {}, SHOWN_MS]
        self._notices.asyncCallWithArgumentList("Notify", arguments)

    def hold_screen(self, why: str) -> None:
        if self._cookie is None:
            answer = self._screen.call("Inhibit", NAME, why)
            given = answer.arguments() if answer.type() is QDBusMessage.MessageType.ReplyMessage else []
            self._cookie = given[0] if given else None

    def release_screen(self) -> None:
        if self._cookie is not None:
            self._screen.asyncCallWithArgumentList("UnInhibit", [self._cookie])
            self._cookie = None


def this_desktop() -> Desktop:
    """The one that the session bus leads to, or its stand-in."""
    bus = QDBusConnection.sessionBus()
    return BusDesktop(bus) if bus.isConnected() else QuietDesktop()
