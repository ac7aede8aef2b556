"""The ingredients that ship, finding them by name, and making one's own from a label or a refractometer."""
