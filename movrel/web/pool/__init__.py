"""Requests that read models, answered by child processes, so that none of them can take the server from the others."""
