"""The places of the window: what each is made of, and the column at the left that leads from one to the other."""
