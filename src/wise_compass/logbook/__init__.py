"""The logbook: what was checked and practised, kept in SQLite, and what it tells."""
