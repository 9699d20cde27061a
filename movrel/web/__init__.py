"""HTTP: turns requests into calls of the rooms below."""
