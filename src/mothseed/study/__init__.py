"""Studies of one series or one sketch: tallies, variety, influence, seeking seeds, traces."""
