"""Pages: sections as one self-contained HTML file that can be handed over.

In come sections (`reports.sections`); out goes the text of a page: charts as semantic SVG in the colors of either
scheme, tables, findings, notes, the fonts of the charts, one style and one script. Start with `page`; `sectionparts`
writes a section, `figures` its charts, `fonts` subsets the letters, `policy` says what the page may do: nothing else.
"""
