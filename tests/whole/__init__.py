"""Tests of the whole: the demo, the examples, the house, faults anywhere."""
