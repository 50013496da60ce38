"""A Flatpak: its manifest with every source and its hash, so that it is built without a network once they are there;
built where flatpak-builder is."""

from __future__ import annotations

import json
import shutil
import subprocess
from pathlib import Path
from urllib.request import Request, urlopen

from tools.packing.tree import LOCK, ROOT

APP = "org.wisecompass.WiseCompass"
RUNTIME, RUNTIME_VERSION, PYTHON_TAG = "org.freedesktop.Platform", "24.08", "cp312"
"""The runtime has Python 3.12."""
INDEX = "https://pypi.org/simple"
FILES = {
    "wise-compass.desktop": f"share/applications/{APP}.desktop",
    "wise-compass.svg": f"share/icons/hicolor/scalable/apps/{APP}.svg",
    "wise-compass-symbolic.svg": f"share/icons/hicolor/symbolic/apps/{APP}-symbolic.svg",
    "wise-compass-mime.xml": f"share/mime/packages/{APP}.xml",
    f"{APP}.metainfo.xml": f"share/metainfo/{APP}.metainfo.xml",
}


def wheels_of(pin: str, hashes: set[str]) -> dict[str, object]:
    """The source of a pinned package for the runtime's Python on an ordinary machine: the address of its wheel and its
    hash, which the lock file has too."""
    name, _, version = pin.partition("==")
    request = Request(f"{INDEX}/{name}/", headers={"Accept": "application/vnd.pypi.simple.v1+json"})
    with urlopen(request, timeout=60) as answer:
        files = json.loads(answer.read())["files"]
    for file in files:
        told = file["filename"]
        if not told.endswith(".whl") or file["hashes"]["sha256"] not in hashes or "musllinux" in told:
            continue
        tags = told.removesuffix(".whl").split("-")[-3:]
        python = any(tag in ("py3", PYTHON_TAG) for tag in tags[0].split(".")) or "abi3" in tags[1]
        if python and ("any" in tags[2] or "x86_64" in tags[2]):
            return {"type": "file", "url": file["url"], "sha256": file["hashes"]["sha256"]}
    raise SystemExit(f"{pin}: no wheel for {PYTHON_TAG} on x86_64 among those that the lock file has")


def pinned() -> dict[str, set[str]]:
    """Each pin of the lock file with the hashes that it admits."""
    found: dict[str, set[str]] = {}
    for line in LOCK.read_text("utf-8").splitlines():
        words = line.replace("\\", "").split()
        if words and "==" in words[0]:
            found[words[0]] = set()
        elif words:
            found[list(found)[-1]].add(words[0].partition("sha256:")[2])
    return found


def manifest() -> dict[str, object]:
    """The manifest, with the wheels as sources and the program from this folder."""
    wheels = [wheels_of(pin, hashes) for pin, hashes in pinned().items()]
    pip = "pip3 install --no-index --no-deps --prefix=${FLATPAK_DEST}"
    copied = [f"install -Dm644 data/{name} ${{FLATPAK_DEST}}/{place}" for name, place in FILES.items()]
    named = f"desktop-file-edit --set-icon={APP} ${{FLATPAK_DEST}}/share/applications/{APP}.desktop"
    return {
        "id": APP,
        "runtime": RUNTIME,
        "runtime-version": RUNTIME_VERSION,
        "sdk": "org.freedesktop.Sdk",
        "command": "wise-compass",
        "finish-args": ["--share=ipc", "--socket=fallback-x11", "--socket=wayland", "--socket=cups", "--device=dri"],
        "modules": [
            {"name": "stands-on", "buildsystem": "simple", "build-commands": [f"{pip} *.whl"], "sources": wheels},
            {
                "name": "wise-compass",
                "buildsystem": "simple",
                "build-commands": [f"{pip} --no-build-isolation .", *copied, named],
                "sources": [{"type": "dir", "path": str(ROOT)}],
            },
        ],
    }


def build(out: Path) -> Path:
    """Write the manifest, and build the Flatpak where that can be done; returns the manifest's file."""
    file = out / f"{APP}.json"
    file.write_text(json.dumps(manifest(), indent=2) + "\n", "utf-8")
    print(f"{file}: the manifest, with its sources")
    builder = shutil.which("flatpak-builder")
    if builder is None:
        print("flatpak-builder is not here: the manifest was written, and nothing built.")
        return file
    subprocess.run([builder, "--user", "--force-clean", str(out / "flatpak-build"), str(file)], check=True)
    return file
