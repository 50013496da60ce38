"""The day's plan of a job: in which order, with what, and how long."""
