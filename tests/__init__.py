"""Nothing of the person whose machine this is, is read or written: every process that runs tests has folders of its
own."""

import atexit
import os
import shutil
import sys
import tempfile

_FOLDER = tempfile.mkdtemp(prefix="wise-compass-tests-")
atexit.register(shutil.rmtree, _FOLDER, ignore_errors=True)
for _name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
    os.environ[_name] = os.path.join(_FOLDER, _name.lower())

QUICK = "--quick"
quick = QUICK in sys.argv or bool(os.environ.get("WISE_COMPASS_QUICK"))
"""Whether this is the run of every day: a third of the catalogue where all of it is walked, a sixth of the drawn
examples."""
if quick:
    os.environ["WISE_COMPASS_QUICK"] = "1"  # the workers are processes of their own


def examples(count: int) -> int:
    """How many examples are drawn where a whole run draws ``count``."""
    return max(count // 6, 5) if quick else count
