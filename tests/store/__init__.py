"""Tests: store."""
