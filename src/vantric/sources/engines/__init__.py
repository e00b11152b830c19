"""Engines: files, sheets, databases and frames, each opened as `Records`.

In comes a path, a pattern, a URL, a frame or a mapping; out goes an object that groups and adds up its records where
they are. Start with `opening.with_records`, `duckrecords` reads files, `sheets` finds tables in workbooks,
`databases` asks SQL databases, `frames` asks frame libraries, `plain` reads columns in memory. What an engine may do is
bounded by `engine`, `conditions`, `postgresguard`, `workbookguard` and `apart`.
"""
