"""Numbers: exact sums, natural order, calendar periods, and how numbers are written.

In come counts, weights and labels as Python objects or arrays; out go exact sums (`amounts`), an order in which "2" is
before "10" (`label_order`), periods of the calendar (`periods`), numbers read from text (`parsing`) and text
(`number_format`). Nothing here knows what is counted. Start with `amounts`: every total in the house is added up
there.
"""
