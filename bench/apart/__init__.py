"""Hands that share no code with the product's own: the judge is judged by what they draw."""
