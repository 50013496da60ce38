"""Figures of straight lines and arcs."""
