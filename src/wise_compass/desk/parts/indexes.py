"""The place of a row as the toolkit tells it to a model and to what paints it."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex

Index = QModelIndex | QPersistentModelIndex
