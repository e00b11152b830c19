"""Reading: what the cells of a source mean.

In come cells as an engine returns them; out go labels as text (`labels`), counts and weights as exact numbers
(`exact`), periods of dates (`calendar`), families of labels (`families`) and a profile of each column (`profile`).
`records` is what every engine must be able to answer: start there.
"""
