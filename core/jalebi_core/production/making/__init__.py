"""Making a batch: its steps from the mix, what was noted of them, and what that means for what is made."""
