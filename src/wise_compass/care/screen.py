"""Whether there is a screen to open a window on, asked without any toolkit."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Mapping


def no_screen(env: Mapping[str, str]) -> str:
    """Why no window can be opened; empty where one can. Asked before Qt, which would end the program without a word to
    the point."""
    if env.get("QT_QPA_PLATFORM"):
        return ""
    wayland, display = env.get("WAYLAND_DISPLAY", ""), env.get("DISPLAY", "")
    if not wayland and not display:
        return "neither DISPLAY nor WAYLAND_DISPLAY is set"
    if wayland and _answers(os.path.join(env.get("XDG_RUNTIME_DIR", ""), wayland)):
        return ""
    if display:
        host, _, number = display.rpartition(":")
        number = number.partition(".")[0]
        if number.isdigit() and (
            any(_answers(f"{sign}/tmp/.X11-unix/X{number}") for sign in ("\0", ""))
            or _answers_far(host, 6000 + int(number))
        ):
            return ""
        return f"DISPLAY is {display}, where no screen answers"
    return f"WAYLAND_DISPLAY is {wayland}, where no screen answers"


def _answers(path: str) -> bool:
    import socket

    with socket.socket(socket.AF_UNIX) as probe, contextlib.suppress(OSError):
        probe.connect(path)
        return True
    return False


def _answers_far(host: str, port: int) -> bool:
    """Whether a screen of another machine answers, as one that is reached over the network."""
    import socket

    if not host or host.startswith("unix") or port > 65535:
        return False
    with contextlib.suppress(OSError), socket.create_connection((host, port), 2):
        return True
    return False
