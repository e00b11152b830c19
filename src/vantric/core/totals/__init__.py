"""Which rows, columns and sheets of a table are derived from its others: totals, means, parts, forwarded sums."""
