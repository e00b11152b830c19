"""Chart files: a chart with its source and every option, as TOML or JSON.

In comes a path or a recipe; out goes the checked content of a chart file, or the text of one. `model` says which
sections each kind of chart has; they are the option classes of the rooms themselves. Start with `reading` and
`writing`.
"""
