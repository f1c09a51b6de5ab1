"""The gate: may I go on? A repetition passes when every rule holds.

Each rule has a limit at three levels, strict, normal and kind; the defaults stand in
`DEFAULT_LIMITS` and are values a player can change.
"""

from dataclasses import dataclass
from enum import StrEnum

from orexis.core.listening.notes.measures import NoteMeasures


class GateLevel(StrEnum):
    """How hard the gate is."""

    STRICT = "strict"
    NORMAL = "normal"
    KIND = "kind"


@dataclass(frozen=True, slots=True)
class GateLimits:
    """The largest deviation each rule allows, in cents either way; the least match of its tone
    (0 to 100) with the last note that passed, and how far its level may be from that one's."""

    centre_cents: float
    spread_cents: float
    scoop_cents: float
    sag_cents: float
    tone_match: float
    level_db: float


# Centre, spread, scoop, sag; tone; level.
DEFAULT_LIMITS = {
    GateLevel.STRICT: GateLimits(10, 6, 20, 15, 80, 3),
    GateLevel.NORMAL: GateLimits(15, 9, 30, 20, 70, 4),
    GateLevel.KIND: GateLimits(20, 13, 45, 30, 60, 6),
}


class Rule(StrEnum):
    """The rules of the gate for a long tone, in the order they are told."""

    CENTRE = "centre"
    STEADY = "steady"
    START = "start"
    END = "end"
    HELD = "held"
    SPEAKS = "speaks"
    TONE = "tone"
    LEVEL = "level"


_AT_LEAST = frozenset({Rule.HELD, Rule.TONE})
_NONE_THE_WORSE = frozenset({Rule.HELD, Rule.TONE, Rule.LEVEL})
"""Rules that say nothing of how good a note is once they hold."""


@dataclass(frozen=True, slots=True)
class RuleResult:
    """One rule's outcome. `measured` is signed where direction matters; for `HELD` and `TONE`
    the limit is the least, for the others the most either way. Units: cents, seconds for `HELD`,
    0 to 100 for `TONE`, dB for `LEVEL`, wrong slots before the note for `SPEAKS`. A rule that
    cannot be told says why in `untold`, and fails nothing."""

    rule: Rule
    measured: float
    limit: float
    passed: bool
    untold: str = ""

    @property
    def badness(self) -> float:
        """How far the rule was missed, as a multiple of its limit (1 = just at it)."""
        if self.rule in _AT_LEAST:
            return self.limit / max(self.measured, 0.1)
        return abs(self.measured) / self.limit if self.limit else 2 * self.measured


@dataclass(frozen=True, slots=True)
class Likeness:
    """How like the last note that passed one is: its tone, 0 to 100, and its level in dB from
    that one's; `None`, and why, where it cannot be told."""

    match: float | None
    level_off_db: float | None
    why: str = ""


NO_NOTE_YET = Likeness(None, None, "no note has passed yet")


@dataclass(frozen=True, slots=True)
class Verdict:
    """Every rule's outcome for one repetition."""

    results: tuple[RuleResult, ...]

    @property
    def passed(self) -> bool:
        """Whether every rule held."""
        return all(result.passed for result in self.results)

    @property
    def badness(self) -> float:
        """How far the rule that was kept least well was missed, or how near it came. A note
        that was held long enough is none the worse for not having been held longer."""
        return max(
            result.badness
            for result in self.results
            if result.rule not in _NONE_THE_WORSE or not result.passed
        )

    @property
    def worst(self) -> RuleResult | None:
        """The failed rule that was missed by most; `None` when all held."""
        failed = [result for result in self.results if not result.passed]
        return max(failed, key=lambda result: result.badness, default=None)


def judge(
    measures: NoteMeasures,
    hold_s: float,
    limits: GateLimits,
    *,
    cracked: bool = False,
    like: Likeness = NO_NOTE_YET,
) -> Verdict:
    """The verdict on one held note; `measures.centre_cents` must be against the target."""

    def within(rule: Rule, measured: float, limit: float) -> RuleResult:
        return RuleResult(rule, measured, limit, abs(measured) <= limit)

    return Verdict(
        (
            within(Rule.CENTRE, measures.centre_cents, limits.centre_cents),
            within(Rule.STEADY, measures.spread_cents, limits.spread_cents),
            within(Rule.START, measures.scoop_cents, limits.scoop_cents),
            within(Rule.END, measures.sag_cents, limits.sag_cents),
            RuleResult(Rule.HELD, measures.hold_s, hold_s, measures.hold_s >= hold_s),
            RuleResult(Rule.SPEAKS, float(cracked), 0.0, not cracked),
            _told(
                Rule.TONE,
                like.match,
                limits.tone_match,
                like.match is None or like.match >= limits.tone_match,
                like.why,
            ),
            _told(
                Rule.LEVEL,
                like.level_off_db,
                limits.level_db,
                like.level_off_db is None or abs(like.level_off_db) <= limits.level_db,
                like.why,
            ),
        )
    )


def _told(rule: Rule, measured: float | None, limit: float, passed: bool, why: str) -> RuleResult:
    """A rule's outcome, or that it cannot be told."""
    if measured is None:
        return RuleResult(rule, 0.0, limit, True, why)
    return RuleResult(rule, measured, limit, passed)
