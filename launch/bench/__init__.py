"""`bench`: speed and size, measured on this machine and printed beside what is asked of them."""
