"""What is drawn: one pass of each kind of work, and a landscape under mist, the same for the same picture number.

Every pass is drawn into a picture of its own in the chip's memory; nothing reaches a screen.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from brachium.core.base.text import phrase
from brachium.devices.workloads.graphics import shaders
from brachium.devices.workloads.graphics.screen import Screen
from brachium.devices.workloads.made_data import raw

GRAIN, LAND_SIDE, MISTS, STEP_S = 512, 160, 4, 1.0 / 60.0
SAMPLES, SUMS, GRID_SIDE = 16, 128 * 8, 500  # per picture element: samples, operations; cells on a side of the grid
REFERENCE, REFERENCE_W, REFERENCE_H = Path(__file__).with_name("scene.png"), 80, 45
REFERENCE_FRAME, TOLERANCE = 90, 8.0  # mean difference of a colour, of 255
COLOUR, DEPTH, TRIANGLES, BLEND, DEPTH_TEST = 0x4000, 0x0100, 0x0004, 0x0BE2, 0x0B71
SOURCE_ALPHA, ONE_LESS_ALPHA, TEXTURE_2D = 0x0302, 0x0303, 0x0DE1


class Stage:
    """A picture to draw into, and the programs that draw; `draw(kind, shift)` does one pass of work."""

    def __init__(self, screen: Screen, width: int, height: int) -> None:
        from PySide6.QtOpenGL import (
            QOpenGLFramebufferObject,
            QOpenGLFramebufferObjectFormat,
            QOpenGLVertexArrayObject,
        )

        self._screen = screen  # its context must outlive what is drawn in it
        self._gl, self.width, self.height = screen.gl, width, height
        form = QOpenGLFramebufferObjectFormat()
        form.setAttachment(QOpenGLFramebufferObject.Attachment.CombinedDepthStencil)
        self._picture = QOpenGLFramebufferObject(width, height, form)
        self._picture.bind()
        self._points = QOpenGLVertexArrayObject()
        self._points.create()
        self._points.bind()
        self._gl.glViewport(0, 0, width, height)
        self._programs = {
            "fill": _program(shaders.WHOLE, shaders.FILL), "texture": _program(shaders.WHOLE, shaders.TEXTURE),
            "arithmetic": _program(shaders.WHOLE, shaders.ARITHMETIC),
            "geometry": _program(shaders.GRID_POINTS, shaders.GRID_COLOUR),
            "land": _program(shaders.LAND_POINTS, shaders.LAND_COLOUR), "mist": _program(shaders.WHOLE, shaders.MIST),
        }  # fmt: skip
        self._grain = grain_texture(GRAIN, 21)
        self._grain.bind()
        self._gl.glBlendFunc(SOURCE_ALPHA, ONE_LESS_ALPHA)

    def draw(self, kind: str, shift: float) -> float:
        """One pass; returns how many units it was: picture elements, samples, operations, triangles."""
        program = self._programs[kind]
        program.bind()
        _set(program, "shift", shift)
        if kind == "geometry":
            program.setUniformValue1i(program.uniformLocation("side"), GRID_SIDE)
            self._gl.glDrawArrays(TRIANGLES, 0, GRID_SIDE * GRID_SIDE * 6)
            return 2.0 * GRID_SIDE * GRID_SIDE
        self._gl.glEnable(BLEND)
        self._gl.glDrawArrays(TRIANGLES, 0, 3)
        self._gl.glDisable(BLEND)
        return self.width * self.height * {"fill": 1.0, "texture": SAMPLES, "arithmetic": SUMS}[kind]

    def finish(self) -> None:
        """Everything asked for is drawn before this returns."""
        self._gl.glFinish()

    def frame(self, number: int) -> None:
        """One picture of the landscape, whole."""
        gl, time_s = self._gl, number * STEP_S
        gl.glClearColor(0.62, 0.71, 0.79, 1.0)
        gl.glClear(COLOUR | DEPTH)
        gl.glEnable(DEPTH_TEST)
        land = self._programs["land"]
        land.bind()
        land.setUniformValue1i(land.uniformLocation("side"), LAND_SIDE)
        _set(land, "time", time_s)
        _set(land, "aspect", self.width / self.height)
        gl.glDrawArrays(TRIANGLES, 0, LAND_SIDE * LAND_SIDE * 6)
        gl.glDisable(DEPTH_TEST)
        gl.glEnable(BLEND)
        mist = self._programs["mist"]
        mist.bind()
        _set(mist, "time", time_s)
        for layer in range(MISTS):
            _set(mist, "layer", float(layer))
            gl.glDrawArrays(TRIANGLES, 0, 3)
        gl.glDisable(BLEND)
        gl.glFinish()

    def small_picture(self) -> np.ndarray:
        """What is drawn now, reduced, shape (REFERENCE_H, REFERENCE_W, 3), 0..255."""
        from PySide6.QtCore import Qt
        from PySide6.QtGui import QImage

        whole = self._picture.toImage().convertToFormat(QImage.Format.Format_RGB888)
        small = whole.scaled(REFERENCE_W, REFERENCE_H, Qt.AspectRatioMode.IgnoreAspectRatio,
                             Qt.TransformationMode.SmoothTransformation)  # fmt: skip
        rows = np.frombuffer(small.constBits(), np.uint8).reshape(REFERENCE_H, small.bytesPerLine())
        return rows[:, : REFERENCE_W * 3].reshape(REFERENCE_H, REFERENCE_W, 3).astype(np.float64)


def difference(stage: Stage) -> float:
    """Mean difference of a colour from the stored picture, of 255: what another rounding of a chip may make."""
    from PIL import Image

    stage.frame(REFERENCE_FRAME)
    wanted = np.asarray(Image.open(REFERENCE).convert("RGB"), dtype=np.float64)
    return float(np.abs(stage.small_picture() - wanted).mean())


def grain_texture(side: int, seed: int) -> Any:
    """A texture of smooth noise, on the chip."""
    from PySide6.QtGui import QImage
    from PySide6.QtOpenGL import QOpenGLTexture

    coarse = (raw(seed, 64 * 64 * 3) % np.uint64(256)).astype(np.float64).reshape(64, 64, 3)
    fine = coarse.repeat(side // 64, axis=0).repeat(side // 64, axis=1)
    for axis in (0, 1):
        fine = np.mean([np.roll(fine, k, axis=axis) for k in range(-4, 5)], axis=0)
    rgba = np.dstack([fine, np.full((side, side), 255.0)]).astype(np.uint8)
    image = QImage(rgba.tobytes(), side, side, side * 4, QImage.Format.Format_RGBA8888)
    texture = QOpenGLTexture(image.copy())
    texture.setWrapMode(QOpenGLTexture.WrapMode.Repeat)
    texture.setMinificationFilter(QOpenGLTexture.Filter.LinearMipMapLinear)
    texture.setMagnificationFilter(QOpenGLTexture.Filter.Linear)
    return texture


def _program(points: str, colours: str) -> Any:
    from PySide6.QtOpenGL import QOpenGLShader, QOpenGLShaderProgram

    program = QOpenGLShaderProgram()
    made = program.addShaderFromSourceCode(QOpenGLShader.ShaderTypeBit.Vertex, points)
    made = made and program.addShaderFromSourceCode(QOpenGLShader.ShaderTypeBit.Fragment, colours)
    if not made or not program.link():
        raise OSError(5, phrase("the driver does not take a program of this test: {log}", log=program.log()[:200]), "")
    return program


def _set(program: Any, name: str, value: float) -> None:
    place = program.uniformLocation(name)
    if place >= 0:
        program.setUniformValue1f(place, value)
