"""Tests that write in a folder on the drive under test, by how their keys begin."""

from __future__ import annotations

NEED_FOLDER = ("drive_", "task_", "ladder")
