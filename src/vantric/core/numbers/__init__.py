"""The ground floor: exact amounts, natural order, and how numbers and labels are shown."""
