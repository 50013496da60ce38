"""Setting a problem: in words, or by its picture."""
