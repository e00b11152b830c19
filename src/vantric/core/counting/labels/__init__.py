"""What a label says by its words: that its row is a total, a rest, missing, or one of an order.

In comes a label, or the rows of a table with their amounts; out goes what the words mean. Start with `totals`, which
decides by words and by sums which rows add up others; `totalwords`, `restwords`, `missingcodes` and `orderwords` hold
the words. What reads sources and what reviews results decide by the same ones.
"""
