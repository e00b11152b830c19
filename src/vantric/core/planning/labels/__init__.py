"""The labels of a chart: texts at marks, placed so that none covers another, a mark or the frame.

In come the marks and the frame; out go texts, the lines that lead to those that were moved, and how many were left out.
Start with `labeling.place_labels`: it goes through the kinds of labels by their importance. `places` keeps the list of
what is taken; `valuelabels` and `pointlabels` each place one kind; `references` draws the rules of cutoffs and
references together with their texts.
"""
