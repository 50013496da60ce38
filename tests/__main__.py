"""Runs every test and closes with one line that counts them."""

from __future__ import annotations

import sys
import unittest
from pathlib import Path


def main() -> int:
    """Run the modules named on the command line, or all of them."""
    loader = unittest.TestLoader()
    names = sys.argv[1:]
    suite = (
        loader.loadTestsFromNames([n if n.startswith("tests.") else f"tests.{n}" for n in names])
        if names
        else (loader.discover(str(Path(__file__).parent), top_level_dir=str(Path(__file__).parent.parent)))
    )
    result = unittest.TextTestRunner(verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    sys.stderr.flush()
    print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not result.testsRun else 0


if __name__ == "__main__":
    sys.exit(main())
