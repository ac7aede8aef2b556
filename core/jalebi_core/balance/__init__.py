"""Balance: reach what is aimed at with the least change of a mix, and say why where that cannot be."""
