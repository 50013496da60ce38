"""The names of the commands: all that whoever opens the desk needs to know of them."""

from __future__ import annotations

import os
from functools import cache


@cache
def names() -> tuple[str, ...]:
    """Every command, by the names of their modules; imports none of them."""
    files = os.listdir(os.path.join(os.path.dirname(__file__), "commands"))
    return tuple(sorted(file[:-3] for file in files if file.endswith(".py") and file != "__init__.py"))
