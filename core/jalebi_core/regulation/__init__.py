"""What law and health ask: allergens, restrictions, names that the law protects."""
