"""The shell's completion, from the parsers of the commands."""

from __future__ import annotations

import argparse

SAYS = "Print the completion for a shell: commands, figures and options by the Tab key."
SHELLS = {
    "bash": "~/.local/share/bash-completion/completions/wise-compass",
    "zsh": "a folder of $fpath, as _wise-compass",
    "fish": "~/.config/fish/completions/wise-compass.fish",
}


def options(one: argparse.ArgumentParser) -> None:
    """What it takes."""
    places = "; ".join(f"{shell}: {place}" for shell, place in SHELLS.items())
    one.add_argument("shell", choices=tuple(SHELLS), help=f"whose; it goes into {places}")


def handle(args: argparse.Namespace) -> None:
    """Print it."""
    import shtab

    print(shtab.complete(args.whole(), args.shell))
