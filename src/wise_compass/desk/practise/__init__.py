"""Practice as a place: problems, hints, the drawing marked, a class."""
