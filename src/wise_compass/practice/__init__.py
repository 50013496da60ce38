"""Practice: problems set, worksheets printed, what was drawn marked, for one and for a class."""
