"""Conics, rolling curves and spirals."""
