"""What a label says by its words: that its row is a total, a rest, missing, or one of an order.

In comes a label, or the rows of a table with their amounts; out goes what the words mean. Start with `totals`, which
decides by words and by sums which rows add up others; its words and those that have an order are there too,
`restwords` holds the others. What reads sources and what reviews results decide by the same ones.
"""
