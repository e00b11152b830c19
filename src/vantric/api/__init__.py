"""The public functions.

In come data of any kind and keywords; out go results that say what they show, become data and frames, save and show
themselves. `counting` holds the functions that count and compare, `charts` those that draw columns or read chart
files, `reviews` the review and repairs, `reports` reports: their sections are made by `report_sections`, what changed
since last time is said by `report_changes`. Everything a function needs of a kind of result it asks `vantric.kinds`.
Start with `counting`.
"""
