"""Runs every bench, or those named: `python -m bench horn`. Ends with 1 where one falls short."""

import sys
from importlib import import_module

from bench.goals import missed

BENCHES = (
    "command",
    "horn",
    "live",
    "latency",
    "motion",
    "home",
    "verdict",
    "memory",
    "hour",
    "tracker",
    "lips",
    "whose",
    "truth",
    "attempts",
    "without",
    "margins",
    "book",
    "paper",
    "coach",
    "enough",
    "facts",
    "halfyears",
    "years",
    "strange",
)

for name in sys.argv[1:] or BENCHES:
    if name not in BENCHES:
        sys.exit(f"There is no bench {name}; there are {', '.join(BENCHES)}.")
    # Each is loaded by itself: what one needs would count as another's memory.
    import_module(f"bench.{name}").main()
    print()
if missed():
    print("\n".join(("Falls short:", *missed())))
    sys.exit(1)
