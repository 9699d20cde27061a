"""The sheet of a model: its drawing, read from the annotations, and the way of its wires."""
