"""Solids: their views, what a plane leaves of them, and their patterns."""
