"""The job at the left: its sheets and figures, the overview of sheets, and the catalogue to choose from."""
