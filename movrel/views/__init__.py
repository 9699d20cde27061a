"""What the screen shows of a model, as frozen data."""
