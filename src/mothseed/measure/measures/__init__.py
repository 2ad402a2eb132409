"""The measures, a module for each kind of thing that is seen."""
