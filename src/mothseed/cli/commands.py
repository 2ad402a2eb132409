"""The commands by name, in the order in which help lists them, each with what it is for.

Nothing is imported here: help is to come at once.
"""

COMMANDS = {
    "new": "write a starter sketch that runs as it is",
    "proof": "make one picture",
    "watch": "make a proof at each save, and show it",
    "daybook": "what was drawn while you worked: look back, compare, take one back",
    "check": "is it reproducible, and does it make a known mistake",
    "edition": "make or finish a series of editions in a folder",
    "sweep": "one labelled sheet over values of one or two dials, seeds, streams or layers",
    "influence": "which dial matters: what each dial and each stream does to the picture",
    "seek": "search for seeds that meet a condition on outcomes and measures",
    "compare": "two pictures side by side, and what differs",
    "contact": "a contact sheet: sorted, filtered, grouped, captioned",
    "table": "the editions of a series as rows",
    "tally": "how often each outcome came up, against what its odds promise",
    "variety": "near twins, outliers, groups and a map of a series; the N most varied",
    "lightbox": "the light table: one self-contained web page",
    "mark": "keep, drop or set aside editions, with a note",
    "verify": "make editions again and hold them against the ledger",
    "pack": "a series in one file to give away, with its source, ledger and light table",
    "recover": "build a series' ledger again from its pictures",
    "palette": "the colours of a picture: on the terminal, as PNG, JSON, plain text",
    "trace": "each random draw and each mark with its line; --at explains a point of the picture",
    "replay": "the picture building up, or a dial being turned, as GIF, APNG or WebP",
    "prepare": "compile the renderer for this machine before it is needed",
    "demo": "the whole example, with the data that ships",
}
