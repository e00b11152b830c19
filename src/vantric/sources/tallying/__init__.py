"""Tallying: groups of records become a tally, a two-way table, measures or exposures.

In come `Records` and what is to be counted; out go the results of `vantric.core.counting`. Start with `gather.gather`,
which takes whatever the user hands over. `crossing` counts by two columns, `drilling` level by level, `aggregating` and
`combining` work out measures, `exposures` what rates are per, `sheetrows` the cells of a sheet that is checked.
"""
