"""The demo job: the restoration of Wrenfold Mill, a made-up water mill, with invented numbers."""

from __future__ import annotations

from importlib.resources import files

from wise_compass.job.model import Job
from wise_compass.job.store import parse_job


def demo_job() -> Job:
    """The demo job, as it ships."""
    return parse_job((files("wise_compass") / "job" / "demo.json").read_text("utf-8"), "The demo job")
