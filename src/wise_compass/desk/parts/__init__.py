"""Small widgets that every room of the desk uses: theme, labels, lists, dialogs, keys, and work that the window does
not wait for."""
