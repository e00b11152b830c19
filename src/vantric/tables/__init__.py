"""Tables: what a result says, as tables, JSON objects, sentences and lines for a terminal.

In comes a result with a language (`localize`); out go `Table`s, of which every format is written, and texts. Start
with `table.Table`; there is a file for each kind of result, `statements` for what is said of several, and
`pareto_terminal` for the Pareto table with its bars.
"""
