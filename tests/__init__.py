"""Nothing of the person whose machine this is, is read or written: every process that runs tests has folders of its own."""

import atexit
import os
import shutil
import tempfile

_FOLDER = tempfile.mkdtemp(prefix="wise-compass-tests-")
atexit.register(shutil.rmtree, _FOLDER, ignore_errors=True)
for _name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
    os.environ[_name] = os.path.join(_FOLDER, _name.lower())
