"""The logbook as a page."""
