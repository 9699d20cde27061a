"""Rigs: the parts of a model as units that exchange signals at communication points."""
