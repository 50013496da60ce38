"""Lessons in the real window."""
