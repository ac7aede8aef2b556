"""The rules of frozen-dessert mixes, as pure functions on plain data."""
