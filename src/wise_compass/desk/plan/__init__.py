"""The day's plan as a place."""
