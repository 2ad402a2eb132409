"""The version, in a file that imports nothing."""

VERSION = "0.1.0"
