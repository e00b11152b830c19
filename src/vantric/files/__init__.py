"""Files: charts and reports as text, TOML or JSON.

In comes a path or a recipe; out goes the checked content of a chart or report file, or the text of one. `models` says
which sections each kind has; they are the option classes of the rooms themselves. Start with `chart_files` (reading,
of earlier editions too); `report_files` reads reports and names the line of what is wrong.
"""
