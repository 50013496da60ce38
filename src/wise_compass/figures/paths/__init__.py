"""Paths of points: linkages, hanging chains."""
