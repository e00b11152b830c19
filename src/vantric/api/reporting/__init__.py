"""Reports: several results on one page, made again every month by a report file.

In comes a report file (`chartfile.reportreading`) with sources in place of its own, perhaps; out goes a `Report` that
saves itself as a page, a workbook, slides, a text or data. Start with `reports`; `making` makes the sections from their
sources, each of which is opened once, `since` says what changed since last time, `starting` writes a first report file.
"""
