"""Numbers only: what Vantric computes, with NumPy, SciPy and the standard library."""
