"""The methods of integration: one file each, what they share, and a chooser."""
