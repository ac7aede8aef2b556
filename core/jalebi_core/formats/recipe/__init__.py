"""Recipes as people have them, read into lines that can be weighed."""
