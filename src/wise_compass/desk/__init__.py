"""The desk: the only room that knows Qt."""
