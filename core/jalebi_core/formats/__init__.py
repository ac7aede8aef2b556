"""Files in and out, and what the commands print."""
