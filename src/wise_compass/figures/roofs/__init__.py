"""Roofs, and what light and planes make of solids in views: spires, rafters, hips, shadows."""
