"""Reading: what the cells of a source mean.

In come cells as an engine returns them; out go labels as text, exact numbers, days and periods, and a profile of each
column (`profile`). `records` is what every engine must be able to answer: start there. `settings` holds the options.

- Numbers: `number_style` takes one cell apart, `number_column` decides the style and unit of a column and words what it
  must ask, `number_columns` reads the columns of records; `typed_column` is for sheets, whose cells have types.
- Dates and periods: `dates`.
- Tables: `grid` finds blocks of cells, `headers` and `headings` their names, `table_layout` the table.
- Conditions of several places, each checked by itself: `conditions`.
- What labels say by their words is in `vantric.core.counts.total_labels` and `relabeling`.
"""
