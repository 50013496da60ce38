"""The space view: planes that fold, solids and patterns as an eye sees them."""
