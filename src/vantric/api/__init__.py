"""The public functions and results.

In come data of any kind and keywords; out go results that say what they show, become data and frames, save and show
themselves. Functions are in `counting`, `charting`, `combine_columns`, `scaling`, `relating` and `reviews`; results
in `tallies`, `paretotables`, `comparisons`, `measured`, `drawables`. What they share: `chartsof` (the chart of a
result), `chartfiles` (what a chart file describes), `recipe` (how a result can be made again), `verbs`, `frames`,
`saving`, `looks` and `reach`. `keywords` is made from the option classes. Start with `counting`.
"""
