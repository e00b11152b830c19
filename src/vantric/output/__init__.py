"""Output: results as the content of files, one writer for every format.

In come sections: a sentence, charts, tables and findings (`sections`); out go the bytes of pages, workbooks, slides,
pictures, Markdown, CSV and JSON. Start with `writers`, which chooses the writer by the ending of a path.
"""
