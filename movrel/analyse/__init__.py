"""What can be said about runs: measures of curves, claims, sweeps over many runs."""
