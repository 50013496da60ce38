"""A photograph of a sheet as the paper of the board."""
