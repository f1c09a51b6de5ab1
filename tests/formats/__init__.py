"""Tests: formats."""
