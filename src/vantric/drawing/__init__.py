"""Drawing: a plan goes to Matplotlib, which is the pen and decides nothing."""

from vantric.errors import ChartError

try:
    import matplotlib as _  # noqa: F401
except ValueError as error:  # it refuses its own settings, such as the environment's MPLBACKEND
    raise ChartError(f"Matplotlib does not accept its settings: {error}; correct MPLBACKEND or matplotlibrc") from None
