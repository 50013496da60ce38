"""The brief: a problem as a sentence whose slots are its givens."""
