"""Whether what was made can be made again: editions held against their ledger, sketches against themselves."""
