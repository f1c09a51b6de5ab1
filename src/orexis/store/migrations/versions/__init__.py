"""The revisions, oldest first."""
