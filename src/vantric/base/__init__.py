"""Base: what every other room may use.

In come names, texts and paths; out go names that are loaded on first use (`lazily`), text that no terminal, format
or log can be harmed by (`safe_text`), files that are written whole or not at all (`safe_files`), work that ends when it
is interrupted (`stopping`), and arithmetic that no setting of the caller changes (`arithmetic`). Errors are in
`vantric.errors`, which is public. Start with
`safe_files.write_whole`.
"""
