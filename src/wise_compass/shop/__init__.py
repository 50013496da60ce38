"""What a shop needs of a pattern before it cuts: parts, laps, plate, folds, blanks and counts."""
