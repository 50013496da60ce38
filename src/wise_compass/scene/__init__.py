"""The space view: planes of projection that stand up and fold flat, and a body among them, as lines for any surface."""
