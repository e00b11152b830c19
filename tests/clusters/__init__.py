"""Counting on clusters that run beside the tests: ``make test-clusters``."""
