"""The frame of a chart: where the axes, their ticks and titles, the head, the note and the legend are.

In comes a `Chart` and the size of the picture; out goes a `Page` (`layout`): the rectangle between the axes, and all
texts and lines around it. Start with `layout.lay_out`. `field` turns category numbers and values into pixels.
"""
