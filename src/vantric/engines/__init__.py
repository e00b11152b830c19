"""Engines: files, sheets, databases and frames, each opened as `Records`.

In comes a path, a pattern, a URL, a frame or a mapping; out goes an object that groups and adds up its records where
they are. Start with `opening.with_records`.

- Files: `source_paths` finds them, `files` makes parts of them that the engine reads (`file_parts`, `text_files`,
  `sheets` with `workbook_details`), `duck_records` has DuckDB group and add them up (`text_numbers` where numbers are
  text).
- Databases: `databases` through SQLAlchemy.
- Frames: `materialize` takes what Python holds, `frame_records` counts frames of any library in their own engine
  (`frame_table`, `frame_libraries`, `cluster_tables`), exactly (`frame_sums`, `sum_strategy`); `clusters` opens Spark.
- Bounds: what an engine may do is held by `duckdb_engine`, `conditions` (with how long a result can be),
  `database_guards` and `workbook_guard`; what may call anything runs in `engine_process`.
"""
