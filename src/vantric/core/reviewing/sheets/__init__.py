"""Sheets made elsewhere: every cell worked out again, and what slip explains the wrong ones.

In comes a `SheetTable`, rows as they are with what their cells say; out go findings, one a cause, with every cell that
is wrong for it. Start with `checking`: `parting` tells the rows of totals apart, `columns` what a cell says as far as
it is rounded, `bases` and `running` what people divide by and add up instead, `order` what there is to say of the rows.
`correcting` holds what each cell should be.
"""
