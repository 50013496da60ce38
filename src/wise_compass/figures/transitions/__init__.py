"""Transitions between two outlines, developed by triangulation."""
