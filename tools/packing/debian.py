"""A Debian package: everything in /usr/lib/wise-compass, run by the system's Python; no network is needed to install
it."""

from __future__ import annotations

import gzip
import os
import shutil
import subprocess
from datetime import date, datetime
from pathlib import Path

import shtab

from tools.packing.manuals import manual_pages
from tools.packing.releases import releases
from tools.packing.tree import PYTHON, ROOT, assemble, megabytes
from wise_compass import __version__
from wise_compass.handbook.opening import page
from wise_compass.handbook.pages import names
from wise_compass.handbook.pdf import pdf_of
from wise_compass.terminal.parsing import whole_parser

NAME = "wise-compass"
MAINTAINER = "The founders of Wise Compass <packages@wisecompass.example>"
HOME = f"usr/lib/{NAME}"
DEPENDS = (
    f"python3 (>= {PYTHON}), python3 (<< {PYTHON.split('.')[0]}.{int(PYTHON.split('.')[1]) + 1}), libc6, libgcc-s1, "
    "libstdc++6, zlib1g, libdbus-1-3, libegl1, libfontconfig1, libfreetype6, libgl1, libglib2.0-0, libx11-6, "
    "libx11-xcb1, libxcb1, libxcb-cursor0, libxcb-icccm4, libxcb-image0, libxcb-keysyms1, libxcb-randr0, "
    "libxcb-render-util0, libxcb-render0, libxcb-shape0, libxcb-shm0, libxcb-sync1, libxcb-xfixes0, libxcb-xkb1, "
    "libxkbcommon0, libxkbcommon-x11-0"
)
START = f"""import runpy
import sys

sys.path.insert(0, "/{HOME}/lib")
runpy.run_module("wise_compass", run_name="__main__", alter_sys=True)
"""
PROGRAM = f"""#!/bin/sh
# -I: neither modules of the folder one stands in nor those of a foreign environment are taken for the program's
exec /usr/bin/python3 -I /{HOME}/start.py "$@"
"""
POSTINST = f"""#!/bin/sh
set -e
if [ "$1" = configure ]; then
    # later starts read what is compiled here once
    python3 -I -m compileall -q -j 0 /{HOME} >/dev/null 2>&1 || true
fi
"""
PRERM = f"""#!/bin/sh
set -e
find /{HOME} -depth -name __pycache__ -type d -exec rm -rf {{}} +
"""
INSTALLED = {
    "wise-compass.desktop": "usr/share/applications",
    "wise-compass-mime.xml": "usr/share/mime/packages",
    "wise-compass.thumbnailer": "usr/share/thumbnailers",
    "org.wisecompass.WiseCompass.metainfo.xml": "usr/share/metainfo",
    "wise-compass.svg": "usr/share/icons/hicolor/scalable/apps",
    "wise-compass-symbolic.svg": "usr/share/icons/hicolor/symbolic/apps",
}
ICONS = (16, 22, 24, 32, 48, 64, 128, 256, 512)
OVERRIDES = (
    # the libraries come as their makers publish them: with copies beside them, found by a path in them, with licences
    "custom-library-search-path *",
    "duplicate-font-file *",
    "embedded-library *",
    "extra-license-file *",
    "font-in-non-font-package *",
    "font-outside-font-dir *",
    "library-not-linked-against-libc *",
    "package-contains-documentation-outside-usr-share-doc *",
    "shared-library-lacks-prerequisites *",
    "spelling-error-in-binary *",
    "script-uses-bin-env *",
    "unstripped-binary-or-object *",
    "unusual-interpreter *",
)
"""Of lintian's remarks, those that are meant so."""


def build(out: Path) -> Path:
    """Build the package into a folder; returns its file."""
    arch = subprocess.run(["dpkg", "--print-architecture"], capture_output=True, text=True, check=True).stdout.strip()
    tree = out / "deb-tree"
    shutil.rmtree(tree, ignore_errors=True)
    lib = tree / HOME / "lib"
    lib.mkdir(parents=True)
    assemble(lib)
    _put(tree / HOME / "start.py", START)
    _put(tree / "usr/bin" / NAME, PROGRAM, 0o755)
    for name, folder in INSTALLED.items():
        _put(tree / folder / name, (ROOT / "data" / name).read_text("utf-8"))
    _icons(tree)
    _documents(tree)
    _modes(tree)
    _control(tree, arch)
    file = out / f"{NAME}_{__version__}_{arch}.deb"
    part = file.with_suffix(".part")  # whoever finds the package finds all of it
    subprocess.run(["dpkg-deb", "--root-owner-group", "-Zxz", "--build", str(tree), str(part)], check=True)
    part.replace(file)
    print(f"{file}: {file.stat().st_size // 1_000_000} MB, {megabytes(tree)} MB installed")
    shutil.rmtree(tree)
    return file


def _put(file: Path, content: str | bytes, mode: int = 0o644) -> None:
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(content if isinstance(content, bytes) else content.encode())
    file.chmod(mode)


def _packed(content: str) -> bytes:
    return gzip.compress(content.encode(), 9, mtime=0)


def _icons(tree: Path) -> None:
    """The icon in its sizes, drawn by the toolkit."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QBuffer, QByteArray, QIODevice, Qt
    from PySide6.QtGui import QGuiApplication, QImage, QPainter
    from PySide6.QtSvg import QSvgRenderer

    kept = QGuiApplication.instance() or QGuiApplication([NAME])
    drawn = QSvgRenderer(str(ROOT / "data" / f"{NAME}.svg"))
    for size in ICONS:
        image = QImage(size, size, QImage.Format.Format_ARGB32)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        drawn.render(painter)
        painter.end()
        held = QByteArray()
        buffer = QBuffer(held)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.save(buffer, "PNG")
        _put(tree / f"usr/share/icons/hicolor/{size}x{size}/apps/{NAME}.png", held.data())
    del kept


def _documents(tree: Path) -> None:
    """Manual pages, completions, copyright, changes, the handbook as pages for a browser."""
    from tools.handbook import build_site

    for name, text in manual_pages(date.today()).items():
        _put(tree / "usr/share/man/man1" / f"{name}.gz", _packed(text))
    whole = whole_parser()
    places = {
        "bash": f"bash-completion/completions/{NAME}",
        "zsh": f"zsh/vendor-completions/_{NAME}",
        "fish": f"fish/vendor_completions.d/{NAME}.fish",
    }
    for shell, place in places.items():
        _put(tree / "usr/share" / place, shtab.complete(whole, shell) + "\n")
    doc = tree / "usr/share/doc" / NAME
    _put(doc / "copyright", _copyright())
    _put(doc / "changelog.gz", _packed(_changelog()))
    _put(doc / "NEWS.md.gz", _packed((ROOT / "CHANGELOG.md").read_text("utf-8")))
    _put(doc / "licences.md", (ROOT / "docs" / "licences.md").read_text("utf-8"))
    _put(tree / "usr/share/lintian/overrides" / NAME, "".join(f"{NAME}: {one}\n" for one in OVERRIDES))
    build_site(doc / "handbook")
    _put(doc / "handbook.pdf", pdf_of(page(name) for name in names()))
    for packed in (doc / "handbook").glob("sitemap*"):
        packed.unlink()


def _copyright() -> str:
    """The licences in Debian's own form, those of what is packed with it among them."""
    mit = (ROOT / "LICENSE").read_text("utf-8").strip()
    indented = "\n".join(f" {line}" if line.strip() else " ." for line in mit.splitlines())
    return (
        "Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/\nUpstream-Name: Wise Compass\n"
        "Comment:\n The packages in lib are as their makers publish them; each has its licence in its .dist-info\n"
        " folder; licences.md tells them (Qt and its binding: LGPL-3, GEOS: LGPL-2.1).\n\n"
        f"Files: *\nCopyright: 2026 The founders of Wise Compass\nLicense: Expat\n{indented}\n"
    )


def _changelog() -> str:
    """The releases as Debian tells them; what each brought stands in the news beside it."""
    told = ""
    for version, day in releases():
        at = datetime.fromisoformat(day).strftime("%a, %d %b %Y 12:00:00 +0000")
        told += f"{NAME} ({version}) stable; urgency=medium\n\n  * Released; see NEWS.md.\n\n"
        told += f" -- {MAINTAINER}  {at}\n\n"
    return told


def _modes(tree: Path) -> None:
    """No library is run, and nothing is written by others."""
    for path in tree.rglob("*"):
        if path.is_symlink():
            continue
        if path.is_dir():
            path.chmod(0o755)
        elif path.parent != tree / "usr/bin":
            path.chmod(0o644)


def _control(tree: Path, arch: str) -> None:
    size = sum(file.stat().st_size for file in tree.rglob("*") if file.is_file()) // 1024
    about = (
        f"Package: {NAME}\nVersion: {__version__}\nArchitecture: {arch}\nMaintainer: {MAINTAINER}\n"
        f"Installed-Size: {size}\nDepends: {DEPENDS}\nRecommends: cups-client\nSection: education\nPriority: optional\n"
        "Homepage: https://wisecompass.example/\n"
        "Description: constructions of technical drawing, derived, walked and proved\n"
        " State a drafting problem in words. Wise Compass derives every point, tangency\n"
        " and true length exactly, walks the hand through each step with the setting of\n"
        " each instrument, proves the result, prints it at true scale, and judges what\n"
        " was drawn.\n"
    )
    _put(tree / "DEBIAN/control", about)
    _put(tree / "DEBIAN/postinst", POSTINST, 0o755)
    _put(tree / "DEBIAN/prerm", PRERM, 0o755)
    sums = subprocess.run(
        "find usr -type f -print0 | sort -z | xargs -0 md5sum", shell=True, cwd=tree, capture_output=True, check=True
    )
    _put(tree / "DEBIAN/md5sums", sums.stdout)
