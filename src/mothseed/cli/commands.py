"""The commands by name, in the order in which help lists them, each with what it is for.

Nothing is imported here: help is to come at once.
"""

COMMANDS = {
    "new": "write a starter sketch that runs as it is",
    "proof": "make one picture",
    "watch": "make a new proof each time you save",
    "daybook": "look back at what you drew, compare, take one back",
    "check": "find mistakes, and randomness that no seed controls",
    "edition": "make a series of editions, or finish one",
    "sweep": "vary one or two dials, seeds, streams or layers on one sheet",
    "influence": "which dials and streams of chance matter most",
    "seek": "search for seeds that meet a condition",
    "compare": "two pictures side by side, and what differs",
    "contact": "a contact sheet, filtered, sorted and captioned",
    "book": "bind a series as a PDF, with captions and a colophon",
    "table": "list the editions of a series",
    "tally": "count the outcomes and compare them with their odds",
    "variety": "near-duplicates, outliers, groups and a map; the N most varied",
    "lightbox": "the light table: look through a series, mark, compare",
    "mark": "keep or drop editions, with a note",
    "verify": "remake editions and compare them with the ledger",
    "pack": "put a series in one file to share",
    "recover": "rebuild a ledger from the pictures",
    "palette": "the colours of a picture",
    "trace": "which line and which random draw made each mark",
    "replay": "animate a picture building up, or a dial turning",
    "prepare": "compile the renderer ahead of time",
    "demo": "write and draw the example plates",
    "docs": "open the documentation, or search it",
}
