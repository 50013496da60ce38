"""A thousand kills over all that writes, from a fixed seed: what was lost, and what was left lying.

``PYTHONPATH=src:. .venv/bin/python -m bench.kills [count]``
"""

from __future__ import annotations

import sys

from tests.kills import lot

COUNT = 1000


def main() -> int:
    """Print what came of them; returns 1 where anything was lost or left."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else COUNT
    lost, strays, writings = lot(count)
    print(f"{count} kills, {writings} writings: {len(lost)} lost, {len(strays)} strays", *lost, *strays, sep="\n")
    return 1 if lost or strays else 0


if __name__ == "__main__":
    sys.exit(main())
