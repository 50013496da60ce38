"""``python -m wise_compass``: the same as the command ``wise-compass``."""

import sys

from wise_compass.terminal.main import main

if __name__ == "__main__":
    sys.exit(main())
