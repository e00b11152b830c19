"""``vantric start``: from a first look at a source, through at most five questions, to one command.

In comes what a source holds; out goes the command that makes the result, as its arguments. Start with `wanted` (which
questions, and what their answers mean); `questions` are what is asked, `asking` asks a person at a terminal.
"""
