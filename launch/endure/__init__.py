"""What takes many minutes to show: that nothing is lost when everything is killed, and that memory does not grow."""
