"""Modelica 3.6 text to syntax tree with source spans, and edits as text patches."""
