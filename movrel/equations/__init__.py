"""Alias removal, matching, sorting and the functions of the sorted system."""
