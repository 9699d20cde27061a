"""The ``movrel`` command: the same calls as from Python, from a shell."""
