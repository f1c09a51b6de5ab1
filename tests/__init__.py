"""Tests: tests."""
