"""Chromium under test: the program, a page for test cases, and what a person does with the pages."""
