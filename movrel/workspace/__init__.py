"""Projects, models, revisions and runs in the database, and what may be done with them."""
