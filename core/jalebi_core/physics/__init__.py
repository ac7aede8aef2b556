"""What a composition does in the cold: freezing, phases, sweetness, density, energy, firmness."""
