"""Whose notes are: where somebody else plays too, which are the player's, who is the louder one.

A note is told by its level and by where its overtones lie: the middle of its spectrum (centroid, in
octaves), which is the horn's more than the note's. One player sounds darker when they play softer,
by an amount that differs from horn to horn. All notes are one group, or two that are normal each,
fitted by expectation maximisation (A. Dempster, N. Laird and D. Rubin, J. R. Stat. Soc. B 39,
1977). Two are taken only where no such amount makes one group of them (G. Schwarz, Ann.
Statist. 6, 1978), as where the softer notes are the brighter ones. Who plays seldom changes between
joined notes and more easily over a silence, so each note is told with those around it (forwards and
backwards, L. Rabiner, Proc. IEEE 77, 1989).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.notes.events import Note

SURELY = 0.95
"""From this probability on a note is surely the player's."""

_FEWEST_NOTES = 16
_OCTAVES_A_DB = (0.05, 0.02, 0.08, 0.035, 0.065)
"""How much brighter a dB more can make a note, what is usual first."""
_LEAST_SPREAD = np.array([0.1, 1.5])
_STRAY_SHARE = 0.02
_ROUNDS = 25
_LEAST_GAIN = 15.0
_LEAST_APART_DB = 2.5
_LEAST_WEIGHT = 0.12
_CHANGES_JOINED, _CHANGES_AFTER_SILENCE = 0.05, 0.3
_SILENCE_S = 0.2
_LONGEST_WEIGHED_S = 1.0


@dataclass(frozen=True, slots=True)
class _Groups:
    """Two groups, the louder one first: how likely each note is in them (2 × notes), by overtones
    and level apart, and the shares of all notes."""

    by_overtones: FloatArray
    by_level: FloatArray
    shares: FloatArray
    total: float

    @property
    def likely(self) -> FloatArray:
        found: FloatArray = self.by_overtones * self.by_level
        return found


def own_and_doubtful(notes: Sequence[Note]) -> tuple[list[Note], list[Note]]:
    """Of some notes, in order, those that are surely the player's, and those that may be; what is
    surely somebody else's is in neither."""
    probabilities = own_probabilities(notes).tolist()
    told = list(zip(notes, probabilities, strict=True))
    own = [note for note, probability in told if probability >= SURELY]
    return own, [note for note, probability in told if 1 - SURELY < probability < SURELY]


def own_probabilities(notes: Sequence[Note]) -> FloatArray:
    """How probable it is of each of some notes, in order, that it is the player's: 1 of all where
    they make but one group, or are too few to tell."""
    every_one = np.ones(len(notes))
    if len(notes) < _FEWEST_NOTES:
        return every_one
    level_db = np.array([note.measures.level_db for note in notes])
    octaves = np.log2([note.brightness * note.f0_hz + 1 for note in notes])
    seconds = np.array([note.end_s - note.start_s for note in notes])
    weights = np.minimum(seconds, _LONGEST_WEIGHED_S)
    weights = weights * len(notes) / weights.sum()
    found: list[_Groups] = []
    for octaves_a_db in _OCTAVES_A_DB:
        as_loud = octaves - octaves_a_db * (level_db - np.median(level_db))
        seen = np.column_stack((as_loud, level_db))
        two = _two_groups(seen, weights)
        if two is None or _gain(seen, weights, two) < _LEAST_GAIN:
            return every_one
        found.append(two)
    return _with_those_around(found[0], notes)


def _normal(values: FloatArray, mean: float, spread: float) -> FloatArray:
    """The density of a normal group at some values, with a little for strays."""
    near = np.exp(-0.5 * ((values - mean) / spread) ** 2) / (spread * np.sqrt(2 * np.pi))
    found: FloatArray = (1 - _STRAY_SHARE) * near + _STRAY_SHARE / max(
        float(np.ptp(values)), 6 * spread
    )
    return found


def _two_groups(seen: FloatArray, weights: FloatArray) -> _Groups | None:
    """The two groups that fit best; `None` where they are as good as one: hardly apart in level, or
    one of them is next to nothing."""
    octaves, level_db = seen.T
    starts = (
        level_db > np.median(level_db),
        level_db > np.percentile(level_db, 30),
        octaves > np.median(octaves),
        octaves < np.median(octaves),
    )
    best: _Groups | None = None
    for start in starts:
        found = _fitted(seen, weights, start.astype(float))
        if found is not None and (best is None or found.total > best.total):
            best = found
    return best


def _fitted(seen: FloatArray, weights: FloatArray, in_first: FloatArray) -> _Groups | None:
    share = np.clip(in_first, 0.05, 0.95)
    for _ in range(_ROUNDS):
        parts = np.array([weights * share, weights * (1 - share)])
        whole = parts.sum(axis=1)
        means = parts @ seen / whole[:, None]
        squares = [part @ (seen - mean) ** 2 for part, mean in zip(parts, means, strict=True)]
        spreads = np.maximum(np.sqrt(np.array(squares) / whole[:, None]), _LEAST_SPREAD)
        octaves, level = (
            np.array(
                [
                    _normal(seen[:, column], means[group, column], spreads[group, column])
                    for group in (0, 1)
                ]
            )
            for column in (0, 1)
        )
        shares = whole / whole.sum()
        likely = shares[:, None] * octaves * level
        share = likely[0] / likely.sum(axis=0)
    if shares.min() < _LEAST_WEIGHT or abs(means[0, 1] - means[1, 1]) < _LEAST_APART_DB:
        return None
    order = [0, 1] if means[0, 1] > means[1, 1] else [1, 0]
    total = float(weights @ np.log(likely.sum(axis=0)))
    return _Groups(octaves[order], level[order], shares[order], total)


def _gain(seen: FloatArray, weights: FloatArray, two: _Groups) -> float:
    """How much more likely two groups make the overtones than one does, given the levels, less
    what three numbers more cost by Schwarz's criterion."""
    octaves = seen[:, 0]
    one = _normal(octaves, float(np.average(octaves, weights=weights)), _spread(octaves))
    by_level = two.shares[:, None] * two.by_level
    parted = (by_level * two.by_overtones).sum(axis=0) / by_level.sum(axis=0)
    return float(2 * weights @ (np.log(parted) - np.log(one)) - 3 * np.log(len(seen)))


def _spread(octaves: FloatArray) -> float:
    return max(float(octaves.std()), float(_LEAST_SPREAD[0]))


def _with_those_around(two: _Groups, notes: Sequence[Note]) -> FloatArray:
    """How probable the first group is of each note, with those before and after it."""
    likely = (two.shares[:, None] * two.likely).T + 1e-12
    changes = [
        _CHANGES_AFTER_SILENCE if after.start_s - before.end_s >= _SILENCE_S else _CHANGES_JOINED
        for before, after in pairwise(notes)
    ]
    forward, backward = likely.copy(), np.ones_like(likely)
    forward[0] /= forward[0].sum()
    for at, change in enumerate(changes, start=1):
        came = (1 - change) * forward[at - 1] + change * forward[at - 1][::-1]
        forward[at] *= came
        forward[at] /= forward[at].sum()
    for at, change in reversed(list(enumerate(changes))):
        ahead = backward[at + 1] * likely[at + 1]
        backward[at] = (1 - change) * ahead + change * ahead[::-1]
        backward[at] /= backward[at].sum()
    both = forward * backward
    probable: FloatArray = both[:, 0] / both.sum(axis=1)
    return probable
