"""Drawing: a plan becomes a picture; renderers decide nothing.

In comes a chart; out go the bytes of a picture with its text alternative (`save`), or a Matplotlib figure (`figure`).
Start with `save.picture`: it plans the chart and hands it to one of two renderers. `svg` writes a semantic SVG by
itself, with `svgshapes`; `pen` draws with Matplotlib, which is loaded for it only, with the fonts that `fonts` finds.
`strokes` holds what both share, `theme` the looks, `colors` what colors are called and how far apart they are.
"""
