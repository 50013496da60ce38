"""``tools/package KIND``: build a package, or check one; each says its size."""

from __future__ import annotations

import argparse
from importlib import import_module
from pathlib import Path

KINDS = {
    "deb": ("debian", "a Debian package, with all that it needs inside"),
    "wheels": ("wheels", "a folder of wheels, for pipx without a network"),
    "flatpak": ("flatpak", "a Flatpak's manifest with its sources; built where flatpak-builder is"),
    "check": ("chroot", "the Debian package in a bare Debian: installed, started, used, upgraded, removed; as root"),
}


def main() -> None:
    """Build what is asked for."""
    asked = argparse.ArgumentParser(prog="tools/package", description=__doc__)
    says = "; ".join(f"{kind}: {words}" for kind, (_, words) in KINDS.items())
    asked.add_argument("kind", choices=tuple(KINDS), help=says)
    asked.add_argument("--out", type=Path, default=Path("dist"), help="the folder that it goes into; dist by default")
    args = asked.parse_args()
    out = args.out.resolve()
    out.mkdir(parents=True, exist_ok=True)
    import_module(f"tools.packing.{KINDS[args.kind][0]}").build(out)


if __name__ == "__main__":
    main()
