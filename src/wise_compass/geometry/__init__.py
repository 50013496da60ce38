"""Array functions of plane and space. Coordinates lie on the last axis; leading axes broadcast."""
