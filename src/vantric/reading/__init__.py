"""Reading: what the cells of a source mean.

In come cells as an engine returns them; out go labels as text (`labels`), exact numbers (`numbercolumns`, `exact`),
days and periods (`calendar`), families of labels (`families`) and a profile of each column (`profile`). `records` is
what every engine must be able to answer: start there.

- Numbers: `numberstyle` takes one cell apart, `numbercolumn` decides the style and unit of a column, `doubts` words
  what asks; `typedcolumn` and `numberformats` are for sheets, whose cells have types and formats, `units` for headings.
- Dates: `datestyle`.
- Tables: `grid` finds blocks of cells, `headers` and `headings` their names, `layout` the table; `csvfile` the shape
  of a text file.
- What labels say by their words is in `vantric.core.counts.labels`.
"""
