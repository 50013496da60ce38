"""Writes the hashes of every file that the package index has of each pinned version into the lock files. ``python -m
tools.pin``.

Every machine that a version is there for is served by the same lock file. Versions are changed by hand, in the lines
without their hashes.
"""

from __future__ import annotations

import json
import sys
import urllib.request
from pathlib import Path

INDEX = "https://pypi.org/simple"
LOCKS = ("requirements.lock", "requirements-check.lock")


def hashes_of(name: str, version: str) -> list[str]:
    """The SHA-256 of every wheel and source archive of a version, by the index's own JSON (PEP 691)."""
    request = urllib.request.Request(f"{INDEX}/{name}/", headers={"Accept": "application/vnd.pypi.simple.v1+json"})
    with urllib.request.urlopen(request, timeout=60) as answer:
        files = json.loads(answer.read())["files"]
    normal = name.replace("-", "_").replace(".", "_").lower()
    stems = (f"{normal}-{version}-", f"{normal}-{version}.")
    found = {
        one["hashes"]["sha256"]
        for one in files
        if one["filename"].lower().replace(".", "_", name.count(".")).startswith(stems)
    }
    found |= {
        one["hashes"]["sha256"]
        for one in files
        if one["filename"].lower().startswith((f"{name}-{version}-", f"{name}-{version}.tar"))
    }
    return sorted(found)


def main() -> None:
    """Write both files anew; stops at a version of which the index has nothing."""
    root = Path(__file__).parent.parent
    for lock in LOCKS:
        lines = []
        pins = [line.split()[0] for line in (root / lock).read_text("utf-8").splitlines() if "==" in line]
        for pin in pins:
            name, _, version = pin.partition("==")
            hashes = hashes_of(name, version)
            if not hashes:
                sys.exit(f"{lock}: the index has no file of {pin}")
            lines.append(" \\\n    ".join([pin, *(f"--hash=sha256:{one}" for one in hashes)]))
        (root / lock).write_text("\n".join(lines) + "\n", "utf-8")


if __name__ == "__main__":
    main()
