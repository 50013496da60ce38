"""A folder of wheels from which the program is installed without a network."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from tools.packing.tree import LOCK, ROOT


def build(out: Path) -> Path:
    """Put the program's wheel and those that it stands on into a folder; returns it."""
    folder = out / "wheels"
    folder.mkdir(parents=True, exist_ok=True)
    pip = [sys.executable, "-I", "-m", "pip", "--disable-pip-version-check", "--quiet"]
    made = [*pip[:4], "wheel", "--quiet", "--no-deps", "--no-build-isolation", "--wheel-dir", str(folder), str(ROOT)]
    subprocess.run(made, check=True, cwd=folder)
    locked = ["--no-deps", "--only-binary", ":all:", "--require-hashes", "-r", str(LOCK)]
    subprocess.run([*pip, "download", *locked, "--dest", str(folder)], check=True)
    files = sorted(folder.glob("*.whl"))
    print(f"{folder}: {len(files)} wheels, {sum(file.stat().st_size for file in files) // 1_000_000} MB")
    print(f"Install it: pipx install --pip-args='--no-index --find-links {folder}' wise-compass")
    return folder
