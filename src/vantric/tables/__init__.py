"""Reports: results as sentences, tables, terminal views, pages and workbooks.

In comes a result and its findings; out goes text or the bytes of a file. Start with `written`, which writes each kind
of result by the ending of its file. The `...data` files hold rows and JSON objects, the `...view` files what a terminal
shows, the `...sentence` files what a result says in words; `workbook`, `markdown` and `tablehtml` write the formats.
"""
