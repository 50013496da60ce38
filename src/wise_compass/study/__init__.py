"""What is learned from runs: a curve against the true one, its table, methods side by side, what moves."""
