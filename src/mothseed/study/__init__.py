"""What can be told of one series, or of one sketch: tallies, variety, influence, seeds that are sought, traces."""
