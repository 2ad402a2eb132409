"""What is compiled and paints tiles: coverage, colour, groups, shades, and storing pixels."""
