"""Tests that drive a real browser: ``make test-browser``."""
