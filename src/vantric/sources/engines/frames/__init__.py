"""Frames of every library that narwhals knows, counted in their own engine.

In come a frame and the columns that are asked for; out go groups of records, with exact sums. Start with `records`:
`FrameRecords` asks a `Table` (`table`), which is one of three: `anytable` speaks narwhals, `sparktable` Spark's own
functions, `dasktable` Dask's own frames (`native` chooses). `sums` asks for all that is added up in one aggregation;
`additions` and `ways` say how a column, or the product of two, is added up exactly in an engine that has 64-bit
integers and floats, and check afterwards that it was.
"""
