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
    """The largest deviation each rule allows, in cents either way."""

    centre_cents: float
    spread_cents: float
    scoop_cents: float
    sag_cents: float


DEFAULT_LIMITS = {
    GateLevel.STRICT: GateLimits(centre_cents=10, spread_cents=6, scoop_cents=20, sag_cents=15),
    GateLevel.NORMAL: GateLimits(centre_cents=15, spread_cents=9, scoop_cents=30, sag_cents=20),
    GateLevel.KIND: GateLimits(centre_cents=20, spread_cents=13, scoop_cents=45, sag_cents=30),
}


class Rule(StrEnum):
    """The rules of the gate for a long tone, in the order they are told."""

    CENTRE = "centre"
    STEADY = "steady"
    START = "start"
    END = "end"
    HELD = "held"


@dataclass(frozen=True, slots=True)
class RuleResult:
    """One rule's outcome. `measured` is signed where direction matters; for `HELD` the limit
    is the least, for the others the most either way. Units: cents, seconds for `HELD`."""

    rule: Rule
    measured: float
    limit: float
    passed: bool

    @property
    def badness(self) -> float:
        """How far the rule was missed, as a multiple of its limit (1 = just at it)."""
        if self.rule is Rule.HELD:
            return self.limit / max(self.measured, 0.1)
        return abs(self.measured) / self.limit


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
            if result.rule is not Rule.HELD or not result.passed
        )

    @property
    def worst(self) -> RuleResult | None:
        """The failed rule that was missed by most; `None` when all held."""
        failed = [result for result in self.results if not result.passed]
        return max(failed, key=lambda result: result.badness, default=None)


def judge(measures: NoteMeasures, hold_s: float, limits: GateLimits) -> Verdict:
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
        )
    )
