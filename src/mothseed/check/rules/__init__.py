"""The rules, a module for each."""
