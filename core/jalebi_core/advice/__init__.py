"""What could be changed, and what a change does."""
