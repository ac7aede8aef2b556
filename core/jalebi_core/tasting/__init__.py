"""What was tasted and logged, and what a kitchen learns from it."""
