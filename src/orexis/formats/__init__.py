"""Open formats in and out: sound files and the analysis document."""
