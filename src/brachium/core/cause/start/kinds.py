"""What keeps a machine from starting, or stops it early.

One of these is at work where a machine does not start: they are rivals, and `base` is the log-odds (natural) of each
against none of them. The figures are the shop's starting assumptions, not measurements.
"""

from __future__ import annotations

from brachium.core.cause.kinds import CauseKind

KINDS: tuple[CauseKind, ...] = (
    CauseKind("mains", "No mains: socket, switch or cable", -0.6, "power at the socket, switch on, another cable"),
    CauseKind("dead_adapter", "The adapter or its plug gives nothing", -0.4, "an adapter of the right rating",
              needs="adapter"),
    CauseKind("charge", "A left-over charge blocks it", -0.7, "unplug, hold the button, start"),
    CauseKind("flat_battery", "The battery is flat or shorts", -0.9, "a battery; it may start without one",
              needs="battery"),
    CauseKind("dead_supply", "The supply is dead", -0.5, "a supply of the right rating", needs="supply"),
    CauseKind("weak_supply", "The supply gives way under load", -0.7, "a supply of the right rating", needs="supply"),
    CauseKind("button", "The power button or its cable", -1.6, "another button or cable"),
    CauseKind("plug", "A plug is loose or in the wrong socket", -0.3, "every plug pressed down"),
    CauseKind("device", "Something plugged in outside stops it", -0.9, "leave it off"),
    CauseKind("monitor", "The monitor, its cable or its input", -0.4, "another cable, the right input",
              needs="monitor"),
    CauseKind("screen", "The built-in screen, its back-light or its cable", -1.0,
              "the cable seated anew, another screen", needs="screen"),
    CauseKind("card", "The graphics card or its power connector", -0.8, "seat it and its power plug anew, another card",
              needs="card"),
    CauseKind("seat", "A module is not seated, or its contacts are dirty", 0.0, "seat them anew, contacts wiped"),
    CauseKind("module", "A module or its slot is faulty", -0.5, "leave it out; the swap grid tells which",
              at_risk=True),
    CauseKind("processor", "The processor is not seated, or unknown to the firmware", -1.1,
              "seat it anew; a firmware that knows it"),
    CauseKind("short", "Something shorts: a standoff, a bent pin, a drop", -1.2,
              "take it out, bend nothing back alone"),
    CauseKind("board", "The board is dead", -0.9, "another board, or another machine"),
    CauseKind("settings", "Settings or a flat date battery keep it from starting", -0.3,
              "defaults, then start mode and drive mode as they were; a coin cell"),
    CauseKind("order", "It starts from another drive, or in another mode", -0.3,
              "boot order, boot mode, secure boot"),
    CauseKind("drive_lead", "The drive's cable or port", -0.8, "another cable, another port", at_risk=True),
    CauseKind("dead_drive", "The drive is dead or dying", -0.4, "image what can be read, then replace it",
              at_risk=True),
    CauseKind("loader", "The loader or the system is damaged", -0.2, "repair the start, or restore the image"),
    CauseKind("driver", "A driver or update stops the system", -0.6, "start with the least, take it back"),
    CauseKind("cooling", "It gets too hot within minutes", -0.8, "cooler seated, fan turning, fresh paste"),
)  # fmt: skip
BY_ID = {k.id: k for k in KINDS}
ALL = tuple(k.id for k in KINDS)
