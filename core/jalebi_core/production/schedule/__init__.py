"""The day worked back from the hour of service: steps of mixes, hands, places and machines, planned and proved best."""
