"""The handbook in the window."""
