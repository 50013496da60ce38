"""The panels beside the board: steps, values, proofs, curve, shop, compare, check."""
