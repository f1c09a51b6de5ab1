"""Loads what a server loads when it is first used: servers of tests are forked from a process that
has imported this."""

import orexis.cli.serve
import orexis.formats.engraving
import orexis.formats.melody
import orexis.formats.musicxml
import orexis.server.app
import orexis.server.run
from orexis.server.warming import listen_once

__all__ = ["orexis"]

listen_once()
