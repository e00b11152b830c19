"""Engines: files, sheets, databases and frames, each opened as `Records`.

In comes a path, a pattern, a URL, a frame or a mapping; out goes an object that groups and adds up its records where
they are. Start with `opening.with_records`. `duckrecords` reads files (`textnumbers` columns of text that are
numbers); `sheets` and `files` find tables and write them for it (`tabletext`); `workbookdetails` and `sheetdetails`
say what a sheet holds beside values; `databases` asks SQL databases, `frames` asks frame libraries, `adopting` takes
whatever else Python holds. What an engine may do is bounded by `engine`, `conditions`, `postgresguard`,
`sqliteguard`, `workbookguard` and `apart`.
"""
