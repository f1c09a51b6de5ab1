"""The plan of a day as JSON: the document `orexis.plan/1`, and the whole of it as it is kept."""

from datetime import date
from typing import Any

from orexis.core.coach.about import Lips
from orexis.core.coach.day import DayBlock, DayPlan, PlanRequest
from orexis.core.exercises.book import current_key
from orexis.core.exercises.family import Group
from orexis.core.session.building import Setting

SCHEMA = "orexis.plan/1"
_SHORT = {Group.LONG: "long"}
"""What a kind of block is called in a document where that is not its own name."""


def plan_document(plan: DayPlan) -> dict[str, Any]:
    """The document a day's plan is given away as."""
    return {
        "schema": SCHEMA,
        "date": plan.day.isoformat(),
        "minutes": plan.asked.minutes,
        "lips": plan.asked.lips.value,
        "blocks": [
            {
                "kind": _SHORT.get(block.kind, block.kind.value),
                "minutes": block.minutes,
                "rest_minutes": block.rest_minutes,
                "exercise": {
                    "family": block.setting.family,
                    "parameters": dict(block.setting.values),
                },
                "highest_midi": block.highest_midi,
                "reason": block.reason,
            }
            for block in plan.blocks
        ],
        "warnings": list(plan.warnings),
    }


def whole_document(plan: DayPlan) -> dict[str, Any]:
    """The whole plan of a day, which `whole_plan` reads back."""
    document = plan_document(plan)
    for block, one in zip(document["blocks"], plan.blocks, strict=True):
        block |= {"way": dict(one.setting.way), "why": one.setting.why}
        block |= {"title": one.title, "about": one.about, "load": one.load}
        block |= {"facts": list(one.facts), "lowest_midi": one.lowest_midi}
    return {
        **document,
        "quiet": plan.asked.quiet,
        "headline": plan.headline,
        "summary": plan.summary,
    }


def whole_plan(kept: dict[str, Any]) -> DayPlan:
    """The plan of a whole document. Raises `LookupError`, `TypeError` or `ValueError`."""
    return DayPlan(
        date.fromisoformat(kept["date"]),
        PlanRequest(kept["minutes"], Lips(kept["lips"]), kept["quiet"]),
        kept["headline"],
        kept["summary"],
        tuple(_block(block) for block in kept["blocks"]),
        tuple(kept["warnings"]),
    )


def _block(kept: dict[str, Any]) -> DayBlock:
    exercise = kept["exercise"]
    return DayBlock(
        _group(kept["kind"]),
        kept["minutes"],
        kept["rest_minutes"],
        Setting(current_key(exercise["family"]), exercise["parameters"], kept["way"], kept["why"]),
        kept["title"],
        kept["about"],
        kept.get("lowest_midi"),
        kept["highest_midi"],
        kept["load"],
        kept["reason"],
        tuple(kept["facts"]),
    )


def _group(kept: str) -> Group:
    return next((group for group, short in _SHORT.items() if short == kept), None) or Group(kept)
