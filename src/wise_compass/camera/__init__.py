"""The sheet photographed: squared up by its frame, its points found, and a stand-in for the camera."""
