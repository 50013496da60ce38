"""What several commands take and print alike."""
