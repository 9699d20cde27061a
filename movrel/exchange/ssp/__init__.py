"""Systems of coupled units as files of the standard System Structure and Parameterization (SSP 1.0 and 2.0)."""
