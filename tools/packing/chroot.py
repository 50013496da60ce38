"""The Debian package tried as a stranger would, in a bare Debian that is made for it: installed, started from the
menu's entry, used without a network, upgraded, and removed without a trace but the person's own files. As root."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from tools.packing import debian
from tools.packing.tree import ROOT
from wise_compass import __version__

SUITE, MIRROR = "bookworm", "http://deb.debian.org/debian"
NEEDED = ("debootstrap", "dpkg-deb", "chroot", "mount", "unshare")
BESIDE = "xvfb xauth xdotool desktop-file-utils shared-mime-info man-db"
"""What is installed for the check itself."""
STATEMENT = "An ellipse, major axis 152 mm, minor axis 88 mm, by the two circles method."
USED = f"""set -eux
cd
test "$(wise-compass --version)" = "wise-compass {__version__}"
wise-compass state "{STATEMENT}" --into mill.json >/dev/null
wise-compass print mill.json --out mill.pdf >/dev/null
head -c 4 mill.pdf | grep -q %PDF
wise-compass draw ellipse --out arch.png >/dev/null
wise-compass thumbnail mill.json seen.png --size 128
wise-compass stray ellipse --hold 0.1 >/dev/null
wise-compass photograph mill.json --hands 1 --out sheet.jpg >/dev/null
wise-compass check --photo sheet.jpg >/dev/null
wise-compass practice ellipse --pupils 2 --out class.pdf --key key.csv --sheet class.csv >/dev/null
wise-compass plan mill.json --out plan.ics >/dev/null
wise-compass calibrate --measured "opening-1=23.2 angle-17=29.4" --keep >/dev/null
wise-compass handbook fillet --out fillet.pdf >/dev/null
for id in slider-crank catenary cassini-oval ray-curve gear-pair cam rect-to-round pyramid-and-prism; do
    wise-compass solve $id >/dev/null
done
man -w wise-compass wise-compass-draw >/dev/null
wise-compass doctor || true
"""
STARTED = """set -eux
cd
Exec=$(sed -n 's/^Exec=//p' /usr/share/applications/wise-compass.desktop)
Xvfb :97 -screen 0 1280x800x24 >/dev/null 2>&1 &
server=$!
export DISPLAY=:97
for file in "$HOME/mill.json" --demo; do
    $(echo "$Exec" | sed "s|%f|$file|") &
    program=$!
    title="Wise Compass"
    test "$file" = --demo && title="Wrenfold Mill · Wise Compass"
    for wait in $(seq 120); do
        sleep 0.5
        found=$(xdotool search --onlyvisible --name "$title" 2>/dev/null | head -n 1) && test -n "$found" && break
    done
    test -n "$found"
    sleep 2
    kill $program 2>/dev/null || true
    wait $program 2>/dev/null || true
done
kill $server
"""


def build(out: Path) -> None:
    """Make the package unless it is there, and try it; stops at what does not hold."""
    lacking = [name for name in NEEDED if shutil.which(name) is None]
    if os.geteuid() != 0 or lacking:
        sys.exit(f"This needs root{' and ' + ', '.join(lacking) if lacking else ''}.")
    arch = subprocess.run(["dpkg", "--print-architecture"], capture_output=True, text=True, check=True).stdout.strip()
    package = out / f"{debian.NAME}_{__version__}_{arch}.deb"
    if not package.exists():
        package = debian.build(out)
    with _bare(out) as root:
        try:
            _try(root, package)
        except subprocess.CalledProcessError as failed:
            sys.exit(f"This did not hold, with status {failed.returncode}: {failed.cmd[-1]}")
    print("The package was installed, started, used, upgraded and removed in a bare Debian.")


@contextmanager
def _bare(out: Path) -> Iterator[Path]:
    """A bare Debian with what a running system has mounted; taken away afterwards."""
    root = out / "chroot"
    with tempfile.TemporaryDirectory(dir=out) as kept:
        shutil.rmtree(root, ignore_errors=True)
        print(f"making a bare {SUITE}", flush=True)
        with (Path(kept) / "log").open("w") as log:
            subprocess.run(["debootstrap", "--variant=minbase", SUITE, str(root), MIRROR], check=True, stdout=log)
    mounts = [("proc", "proc", "proc"), ("/dev", "dev", ""), ("tmpfs", "dev/shm", "tmpfs")]
    done: list[Path] = []
    try:
        for what, where, kind in mounts:
            told = ["-t", kind] if kind else ["--rbind"]
            subprocess.run(["mount", *told, what, str(root / where)], check=True)
            done.append(root / where)
        shutil.copy("/etc/resolv.conf", root / "etc/resolv.conf")
        yield root
    finally:
        for place in reversed(done):
            subprocess.run(["umount", "-l", str(place)], check=False)
        shutil.rmtree(root, ignore_errors=True)


def _run(root: Path, script: str, network: bool = False, person: str = "") -> None:
    """A script in the bare Debian, of a person's or root's, with a network or without."""
    lone = [] if network else ["unshare", "--net"]
    asked = ["su", "-", person, "-c", script] if person else ["sh", "-c", script]
    env = {"PATH": "/usr/sbin:/usr/bin:/sbin:/bin", "DEBIAN_FRONTEND": "noninteractive", "LANG": "C.UTF-8"}
    env |= {name: os.environ[name] for name in ("http_proxy", "https_proxy") if name in os.environ}
    subprocess.run([*lone, "chroot", str(root), *asked], check=True, env=env)


def _try(root: Path, package: Path) -> None:
    shutil.copy(package, root / "tmp" / "first.deb")
    print("installing", flush=True)
    _run(root, f"apt-get -qq update && apt-get -qq install -y {BESIDE} >/dev/null 2>&1", network=True)
    stands_on = " ".join(one.split()[0] for one in debian.DEPENDS.split(", "))
    _run(root, f"apt-get -qq install -y --no-install-recommends {stands_on} >/dev/null 2>&1", network=True)
    before = _files(root)
    _run(root, "dpkg -i /tmp/first.deb >/dev/null")
    _run(root, "useradd -m -s /bin/sh smith")
    print("used, without a network", flush=True)
    _run(root, USED, person="smith")
    print("started by its entry in the menu", flush=True)
    _run(root, STARTED, person="smith")
    print("upgraded", flush=True)
    later = _later(package, root / "tmp" / "later.deb")
    _run(root, "dpkg -i /tmp/later.deb >/dev/null")
    _run(root, f"test \"$(dpkg-query -W -f '${{Version}}' {debian.NAME})\" = {later}")
    _run(root, "wise-compass solve ellipse >/dev/null", person="smith")
    print("removed", flush=True)
    own = {str(path) for path in (root / "home/smith").rglob("*")}
    _run(root, f"dpkg --purge {debian.NAME} >/dev/null")
    left = sorted(name for name in _files(root) - before if debian.NAME in name or "wisecompass" in name)
    if left:
        sys.exit(f"It left behind: {', '.join(left[:8])}")
    taken = own - {str(path) for path in (root / "home/smith").rglob("*")}
    if taken or not any("wise-compass" in path for path in own):
        sys.exit(f"It took of the person’s own: {', '.join(sorted(taken)[:8]) or 'all'}")


def _files(root: Path) -> set[str]:
    """What the system has, by its paths, persons' own apart."""
    places = ("usr", "etc", "opt", "var/lib")
    skipped = ("/dpkg/", "/apt/", "/man-db/")
    found = (str(path.relative_to(root)) for place in places for path in (root / place).rglob("*"))
    return {name for name in found if not any(part in f"/{name}" for part in skipped)}


def _later(package: Path, to: Path) -> str:
    """The same package as a later version of itself; returns that version."""
    version = f"{__version__}+1"
    with tempfile.TemporaryDirectory(dir=to.parent) as made:
        tree = Path(made) / "tree"
        subprocess.run(["dpkg-deb", "-R", str(package), str(tree)], check=True)
        control = tree / "DEBIAN/control"
        told = control.read_text("utf-8").replace(f"\nVersion: {__version__}\n", f"\nVersion: {version}\n")
        control.write_text(told, "utf-8")
        subprocess.run(["dpkg-deb", "--root-owner-group", "-Zgzip", "-z1", "-b", str(tree), str(to)], check=True)
    return version


if __name__ == "__main__":
    build(ROOT / "dist")
