"""The public functions, and what they know of each kind of result.

In come data of any kind and keywords; out go results that say what they show, become data and frames, save and show
themselves. Functions are in `charting`, `combine_columns`, `scaling`, `relating`, `trends` and `reviews`; the classes
of results are in the rooms that compute them. `kinds` holds one row a kind of result, which the functions, the
commands, chart files (`chartfiles`) and reports (`reporting`) ask. `recipe` is how a result can be made again, `saving`
writes it. `keywords` is made from the option classes. Start with `charting`, then `kinds`.
"""
