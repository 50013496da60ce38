"""The toolkit, brought in so that what follows is imported at its usual speed.

On its first import the binding puts a function of its own in the place of ``__import__``: it looks into the source of
every module that is imported from then on for a switch of its interface (``from __feature__ import …``). No module of
this house, nor of those that it uses, has one, and the look takes as long as the import; so the plain function is put
back. Whatever imports anything of the desk, the program, tests, bench or tools, comes through here first:
:mod:`wise_compass.desk` sees to it.
"""

from __future__ import annotations

import builtins
from importlib import import_module

PARTS = ("QtCore", "QtGui", "QtWidgets")
"""What the window is made of; the other parts come in where they are used."""


def bring_in() -> None:
    """Import the toolkit, and leave importing as it was before."""
    plain = builtins.__import__
    for part in PARTS:
        import_module(f"PySide6.{part}")
    builtins.__import__ = plain
