"""Computation: everything that is worked out, with NumPy, SciPy and the standard library alone.

In come labels and numbers; out go results, findings and plans. No room here knows of files, renderers or commands.
Start with `counts`, then `composition` and `layout`.
"""
