"""Pages: sections as one self-contained HTML file that can be handed over.

In come sections (`reports.sections`); out goes the text of a page: charts as semantic SVG in the colors of either
scheme, tables, findings, notes, the fonts of the charts, one style and one script. Start with `page`, which writes the
sections, their charts and what the page may do: nothing else; `fonts` subsets the letters.
"""
