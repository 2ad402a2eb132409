"""Compiled kernels: kept on disk as object files, loaded without the compiler, and compiled if missing."""
