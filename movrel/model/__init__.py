"""Lookup, inheritance, modification, arrays and connections: from classes to the flat model."""
