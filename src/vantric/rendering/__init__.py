"""Rendering: a plan becomes a picture; renderers decide nothing.

In comes a chart; out go the bytes of a picture with its text alternative, or a Matplotlib figure. Start with
`pictures.picture`: it plans the chart and hands it to one of two renderers. `svg` writes a semantic SVG by itself,
with `svg_sheet`; `matplotlib_figure` draws with Matplotlib (`mark_painter`), which is loaded for it only, with the
fonts that `fonts` finds. `themes` holds colors and strokes of both, `drawing_guards` sees to one
thread at a time and tells what a picture lacks.
"""
