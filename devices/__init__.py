"""Stand-ins for a kitchen's instruments: two scales, a probe and a batch freezer, driven by physics."""
