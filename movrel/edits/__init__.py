"""What can be done to a model: each edit is a frozen dataclass whose ``apply`` gives patches of the text."""
