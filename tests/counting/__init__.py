"""Tests of this room."""
