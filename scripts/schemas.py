"""Writes the JSON Schemas of the file formats into docs/formats."""

from __future__ import annotations

import json
from pathlib import Path

from brachium.formats.answers.shapes import answers_schema
from brachium.formats.records import job_schema, run_schema

FOLDER = Path(__file__).parents[1] / "docs/formats"

for name, schema in (("run", run_schema()), ("job", job_schema()), ("answers", answers_schema())):
    (FOLDER / f"{name}.schema.json").write_text(json.dumps(schema, indent=1, ensure_ascii=False) + "\n")
