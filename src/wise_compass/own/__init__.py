"""Constructions of a person's own: written as steps of instruments, run, and proved."""
