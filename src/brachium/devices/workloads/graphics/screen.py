"""A drawing surface off the screen: OpenGL 3.3 by Qt, on the display that is there, or on a private one without a
screen where there is none."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from dataclasses import dataclass
from typing import Any

from brachium.devices.workloads.ends_with_us import ends_with_us

NO_DISPLAY = "there is no display here, and no Xvfb to stand in for one"
NO_OPENGL = "OpenGL 3.3 is not to be had here: its driver is missing or too old"
SOFTWARE = ("llvmpipe", "softpipe", "swrast", "software", "swiftshader")
VENDOR, RENDERER, VERSION = 0x1F00, 0x1F01, 0x1F02


class NoGraphics(Exception):  # noqa: N818 - said to people as it is named
    """Nothing can be drawn here; the text says why."""


@dataclass(frozen=True)
class Device:
    """What draws: its own name, its driver's version, and whether it is a program and no chip."""

    name: str
    driver: str
    software: bool


class Screen:
    """Holds the context for the life of the process. `gl` has the functions of OpenGL 3.3. Raises NoGraphics."""

    def __init__(self) -> None:
        _find_display()
        from PySide6.QtGui import QGuiApplication, QOffscreenSurface, QOpenGLContext, QSurfaceFormat
        from PySide6.QtOpenGL import QOpenGLVersionFunctionsFactory, QOpenGLVersionProfile

        self.application = QGuiApplication.instance() or QGuiApplication(sys.argv[:1])
        wanted = QSurfaceFormat()
        wanted.setVersion(3, 3)
        wanted.setProfile(QSurfaceFormat.OpenGLContextProfile.CoreProfile)
        wanted.setSwapInterval(0)
        self.context = QOpenGLContext()
        self.context.setFormat(wanted)
        self.surface = QOffscreenSurface()
        self.surface.setFormat(wanted)
        self.surface.create()
        if not self.context.create() or not self.context.makeCurrent(self.surface):
            raise NoGraphics(NO_OPENGL)
        self.gl: Any = QOpenGLVersionFunctionsFactory.get(QOpenGLVersionProfile(wanted), self.context)
        if self.gl is None:
            raise NoGraphics(NO_OPENGL)
        self.gl.initializeOpenGLFunctions()

    def device(self) -> Device:
        name, driver = (str(self.gl.glGetString(k) or "") for k in (RENDERER, VERSION))
        return Device(name, driver, any(word in name.lower() for word in SOFTWARE))


def _find_display() -> None:
    """The display of whoever started us; else a private one. Raises NoGraphics."""
    if os.environ.get("WAYLAND_DISPLAY"):
        os.environ["QT_QPA_PLATFORM"] = "wayland"
        return
    if not os.environ.get("DISPLAY"):
        os.environ["DISPLAY"] = _private_display()
    os.environ["QT_QPA_PLATFORM"] = "xcb"


def _private_display() -> str:
    program = shutil.which("Xvfb")
    if program is None:
        raise NoGraphics(NO_DISPLAY)
    heard, told = os.pipe()
    subprocess.Popen(
        [program, "-displayfd", str(told), "-screen", "0", "1920x1080x24", "-nolisten", "tcp"], pass_fds=(told,),
        stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, preexec_fn=ends_with_us,
    )  # fmt: skip
    os.close(told)
    with os.fdopen(heard) as pipe:
        number = pipe.readline().strip()
    if not number:
        raise NoGraphics(NO_DISPLAY)
    return f":{number}"
