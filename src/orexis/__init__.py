"""Orexis: a listening practice companion for brass players."""
