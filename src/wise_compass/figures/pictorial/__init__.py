"""Pictures of solids on three axes: isometric, oblique, in perspective."""
