"""Output: results as the content of files, one writer for every format.

In come sections: a sentence, charts, tables and findings (`sections`); out go the bytes of pages (`pages`), workbooks
(`workbook` and its parts), slides, Markdown and HTML (`markup`; `prose` for what somebody wrote), findings, CSV and
JSON. Start with `writers`, which chooses the writer by the ending of a path.
"""
