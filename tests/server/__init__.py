"""Tests: server."""
