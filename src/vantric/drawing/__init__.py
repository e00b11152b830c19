"""Drawing: a plan goes to Matplotlib, which is the pen and decides nothing.

In comes a chart; out goes a Matplotlib figure (`figure`) or the bytes of a picture with its text alternative (`save`).
Start with `save.picture`: it plans the chart with the text measure of the fonts that draw it (`fonts`), and `pen` draws
each mark of the plan. `theme` holds the looks, `colors` what colors are called and how far apart they are.
"""

from vantric.errors import ChartError

try:
    import matplotlib as _  # noqa: F401
except ValueError as error:  # it refuses its own settings, such as the environment's MPLBACKEND
    raise ChartError(f"Matplotlib does not accept its settings: {error}; correct MPLBACKEND or matplotlibrc") from None
