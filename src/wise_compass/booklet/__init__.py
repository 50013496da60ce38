"""What a teacher hands out: a construction in stages, small pictures in a row, and booklets of methods."""
