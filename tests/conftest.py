"""Property tests look for what is wrong, not for how fast a busy machine is."""

import os

from hypothesis import settings

settings.register_profile("anywhere", deadline=None)
# The same examples every time, so that a failure is of the change and not of chance.
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "anywhere")
