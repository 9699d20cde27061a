"""Units of the Functional Mock-up Interface: what they say of themselves, and the process in which one runs."""
