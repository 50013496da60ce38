"""Points, lines and planes in space."""
