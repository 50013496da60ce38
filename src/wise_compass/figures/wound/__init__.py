"""What winds round an axis: helices, springs, threads."""
