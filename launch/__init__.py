"""What `./jalebi` does before and around the application: install, start, check, measure.

Everything but `analyse.py` and `bench/` uses the standard library alone, since it runs before
anything is installed.
"""
