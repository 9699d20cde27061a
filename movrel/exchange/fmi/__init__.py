"""Units of the Functional Mock-up Interface: export of models, import of units (FMI 2.0.4 and 3.0.2)."""
