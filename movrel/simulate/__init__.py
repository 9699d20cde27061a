"""Solvers, events, the run loop and trajectories."""
