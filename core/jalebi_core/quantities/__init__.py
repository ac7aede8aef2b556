"""Amounts as people type and measure them: one grammar for fields, pasted recipes and files."""
