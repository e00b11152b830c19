"""Which rows, columns and sheets of a table are derived from its others: totals, means, parts, forwarded sums.

In come rows of exact amounts with their labels and marks, out come verdicts: left out, asked about, or told of. Start
with `derived_rows`.
"""
