"""The handbook: pages written by hand, a page for each figure made by the program itself, found by words."""
