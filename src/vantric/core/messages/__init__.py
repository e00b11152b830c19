"""What a reader of a result sees: messages, whole texts with typed arguments, and how a language writes them.

In come an id and arguments; out goes a text. `languages` reads the catalogs, one file a language; a
`formatter.Formatter` turns arguments into text: numbers, percents, dates, lists, ranges, quotation marks. A
`message.Message` is its own text in English and can be said again in another language. Start with `formatter`.

Why not a message library: the best kept one takes 160 ms to load and 39 MB on a disk, most of it for locales that no
catalog is in. What is needed of it here is to fill gaps and to choose a plural form, which is 40 lines.
"""
