"""When something does not work: what this installation is, what is amiss with it, and what is kept of a fault."""
