"""Heat over time: what a mix gives off and takes up, and how fast."""
