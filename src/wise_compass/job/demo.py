"""The demo job: the restoration of Wrenfold Mill, a made-up water mill, with invented numbers."""

from __future__ import annotations

import json
from pathlib import Path

from wise_compass.job.model import Job, from_data

DEMO_FILE = Path(__file__).parent / "demo.json"


def demo_job() -> Job:
    """The demo job, as it ships; a test holds its file against the schema, so it is not validated at each start."""
    return from_data(json.loads(DEMO_FILE.read_text("utf-8")))
