"""Making it: preparations, machines, sizes, mix-ins."""
