"""Tests: browser."""
