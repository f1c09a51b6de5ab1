"""Tests: core."""
