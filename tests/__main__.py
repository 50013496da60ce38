"""``python -m tests``: every test, or the modules named."""

import sys

from tests.runner import main

if __name__ == "__main__":  # the workers import this module too
    sys.exit(main())
