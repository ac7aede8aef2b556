"""What takes minutes to show: that nothing stops it, that nothing is lost when parts are killed, that nothing grows."""
