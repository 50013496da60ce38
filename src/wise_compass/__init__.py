"""Wise Compass: constructions of technical drawing, derived, walked and proved."""

__version__ = "0.2.0"
