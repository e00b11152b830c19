"""Good and flawed inputs of the review: tables, logs, sheets, charts, strata, comparisons and workbooks."""
