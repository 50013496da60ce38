"""The board: a drawing on glass, what is read and measured on it, what is laid over it, and the step rule below."""
