"""The releases, as the list of changes tells them."""

from __future__ import annotations

import re

from tools.packing.tree import ROOT

_RELEASE = re.compile(r"^## (\d+\.\d+\.\d+), (\d{4}-\d{2}-\d{2})$", re.MULTILINE)


def releases() -> list[tuple[str, str]]:
    """Versions with their days, the latest first."""
    return _RELEASE.findall((ROOT / "CHANGELOG.md").read_text("utf-8"))
