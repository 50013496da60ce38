"""Drawings and runs as files in open formats."""
