"""The program with all that it stands on in one folder, without what it never uses."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent
LOCK = ROOT / "requirements.lock"
PYTHON = f"{sys.version_info.major}.{sys.version_info.minor}"
QT_MODULES = ("QtCore", "QtGui", "QtWidgets", "QtPrintSupport", "QtSvg", "QtNetwork", "QtDBus", "QtXml")
"""Of the binding: what the desk imports, and what is imported with it."""
QT_PLUGINS = (
    "iconengines",
    "imageformats",
    "platforminputcontexts",
    "platforms",
    "platformthemes",
    "printsupport",
    "wayland-decoration-client",
    "wayland-graphics-integration-client",
    "wayland-shell-integration",
    "xcbglintegrations",
)
QT_PLATFORMS = ("libqxcb.so", "libqwayland.so", "libqwayland-generic.so", "libqwayland-egl.so", "libqoffscreen.so")
UNUSED = (
    "scipy/stats",
    "scipy/signal",
    "scipy/io",
    "scipy/ndimage",
    "scipy/cluster",
    "scipy/datasets",
    "scipy/differentiate",
    "scipy/fftpack",
    "scipy/odr",
    "scipy/misc",
    "mpl_toolkits",
    "matplotlib/mpl-data/sample_data",
    "matplotlib/mpl-data/fonts/afm",
    "matplotlib/mpl-data/fonts/pdfcorefonts",
    "matplotlib/mpl-data/images",
    "fontTools/ttLib",
    "fontTools/varLib",
    "fontTools/otlLib",
    "fontTools/feaLib",
    "reportlab/fonts",
    "reportlab/graphics/barcode",
    "PySide6/Qt/plugins/imageformats/libqpdf.so",
    "PySide6/Qt/plugins/platforminputcontexts/libqtvirtualkeyboardplugin.so",
    "bin",
    "share",
)
"""What no module of the program's imports, itself or by another: measured, and held by the check of the package."""
DROPPED = ("*.pyi", "*.pyx", "*.pxd", "*.c", "*.h", "*.hpp", "*.a", "py.typed", "testdrawings.py")


def assemble(folder: Path) -> None:
    """Put everything into a folder, and take away what is not used."""
    with tempfile.TemporaryDirectory() as made:
        pip = [sys.executable, "-I", "-m", "pip", "--disable-pip-version-check"]
        quiet = ["--quiet", "--no-deps", "--no-warn-script-location"]
        build = [*pip, "wheel", *quiet[:2], "--no-build-isolation", "--wheel-dir", made, str(ROOT)]
        subprocess.run(build, check=True, cwd=made)
        wheel = next(str(file) for file in Path(made).glob("wise_compass-*.whl"))
        locked = ["--only-binary", ":all:", "--require-hashes", "-r", str(LOCK)]
        subprocess.run([*pip, "install", *quiet, "--no-compile", "--target", str(folder), *locked], check=True)
        subprocess.run([*pip, "install", *quiet, "--no-compile", "--target", str(folder), wheel], check=True)
    _drop(folder)


def _drop(folder: Path) -> None:
    for name in UNUSED:
        unused = folder / name
        unused.unlink(missing_ok=True) if unused.suffix == ".so" else shutil.rmtree(unused, ignore_errors=True)
    for name in ("tests", "__pycache__"):
        for inside in [path for path in folder.rglob(name) if path.is_dir()]:
            shutil.rmtree(inside, ignore_errors=True)
    for pattern in DROPPED:
        for file in folder.rglob(pattern):
            if file.is_file() and "fastjsonschema" not in file.parts:
                file.unlink()
    _drop_qt(folder / "PySide6")
    for inside in sorted((path for path in folder.rglob("*") if path.is_dir()), reverse=True):
        if not any(inside.iterdir()):
            inside.rmdir()


def _drop_qt(qt: Path) -> None:
    """Leave of Qt the modules that are used, the plugins of their windows, and the libraries that these need."""
    for part in qt.iterdir():
        module = part.name.split(".")[0]
        if part.is_dir() and part.name not in ("Qt", "support", "__pycache__"):
            shutil.rmtree(part)
        elif (
            part.suffix == ".so"
            and module.startswith("Qt")
            and module not in QT_MODULES
            or part.is_file()
            and not part.suffix
            and "libpyside" not in part.name
            and _is_program(part)
            or part.name.startswith("libpyside6qml")
        ):
            part.unlink()
    for part in (qt / "Qt").iterdir():
        if part.name not in ("lib", "plugins"):
            shutil.rmtree(part)
    for kind in (qt / "Qt" / "plugins").iterdir():
        if kind.name not in QT_PLUGINS:
            shutil.rmtree(kind)
    for plugin in (qt / "Qt" / "plugins" / "platforms").iterdir():
        if plugin.name not in QT_PLATFORMS:
            plugin.unlink()
    libraries = qt / "Qt" / "lib"
    starts = [*qt.glob("*.so*"), *(qt / "Qt" / "plugins").rglob("*.so")]
    needed = _reached(starts, {file.name: file for file in libraries.iterdir() if ".so" in file.name})
    for file in libraries.iterdir():
        if file.name not in needed:
            shutil.rmtree(file) if file.is_dir() else file.unlink()


def _is_program(file: Path) -> bool:
    with file.open("rb") as opened:
        return opened.read(4) == b"\x7fELF"


def _reached(starts: list[Path], there: dict[str, Path]) -> set[str]:
    """The names of the libraries that files need, and that those need."""
    found: set[str] = set()
    waiting = list(starts)
    while waiting:
        for name in _needs(waiting.pop()):
            if name in there and name not in found:
                found.add(name)
                waiting.append(there[name])
    return found


def _needs(file: Path) -> Iterator[str]:
    """What a library says that it needs (ELF, DT_NEEDED)."""
    told = subprocess.run(["readelf", "-d", str(file)], capture_output=True, text=True, check=False).stdout
    for line in told.splitlines():
        if "(NEEDED)" in line:
            yield line.partition("[")[2].rstrip("]")


def megabytes(folder: Path) -> int:
    """What a folder takes."""
    return sum(file.stat().st_size for file in folder.rglob("*") if file.is_file()) // 1_000_000
