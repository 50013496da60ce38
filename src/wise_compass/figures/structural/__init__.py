"""Forms that straight lines make: the saddle and the hyperboloid."""
