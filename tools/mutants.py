"""Plants faults in a room of the core, one at a time, and tells which ones no test finds:
`make mutants ROOM=session`.

It works on a copy of the tracked files under `build/mutants`, and takes up a run that was stopped
where that was. `ONLY=running` plants faults in one module alone, `SAMPLE=300` so many of all that
can be planted, drawn evenly: their share is within some 3 in 100 of that of all (one standard error
of 90 % of 300 is 1.7).
"""

import json
import os
import random
import shutil
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

from mutmut.stats import status_by_exit_code

_ROOT = Path(__file__).parents[1]
_COPIED = ("src", "tests", "bench", "tools", "pyproject.toml")
_AT_ONCE = 2
_MUTMUT = str(Path(sys.executable).with_name("mutmut"))
ROOMS = {
    "session": (
        *(f"core/test_{name}.py" for name in ("building", "checking", "enough", "running")),
        *(f"core/test_{name}.py" for name in ("carried_over", "free_log", "telling", "ways")),
        *(f"core/test_{name}.py" for name in ("metronome", "pulse", "session_time", "timeline")),
        *(f"core/test_{name}.py" for name in ("starting", "stand", "steadiness")),
        "formats/test_session.py",
    ),
    "coach": ("core/coach", "core/test_counting.py", "core/progress/test_course.py"),
    "judging": (
        *(f"core/test_{name}.py" for name in ("attempts", "bars", "ear", "following", "judging")),
        *(f"core/test_{name}.py" for name in ("aim_words", "free_words", "holds", "measure_words")),
        *(f"core/test_{name}.py" for name in ("line_rules", "marks", "part_place", "piece_live")),
        *(f"core/test_{name}.py" for name in ("pattern_words", "repeats", "sound_comparison")),
    ),
    "progress": ("core/progress", "practice/test_progress.py", "practice/test_diary.py"),
}
"""The tests that a fault in each room is held against: those of that room that are quick."""


def _copied(room: str) -> Path:
    """A copy of the tracked files, with what mutmut has to know of the room."""
    folder = _ROOT / "build" / "mutants" / room
    folder.mkdir(parents=True, exist_ok=True)
    listed = subprocess.run(
        ["git", "ls-files", "-z", *_COPIED], cwd=_ROOT, check=True, capture_output=True, text=True
    )
    names = [name for name in listed.stdout.split("\0") if name]
    for part in _COPIED:
        for path in sorted((folder / part).rglob("*.py")):
            if path.relative_to(folder).as_posix() not in names:
                path.unlink()
    for name in names:
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        shutil.copy2(_ROOT / name, folder / name)
    tests = [f"tests/{name}" for name in ROOMS[room]]
    settings = {
        "source_paths": ["src/"],
        "only_mutate": [f"src/orexis/core/{room}/*"],
        "pytest_add_cli_args": ["-m", "not deep"],
        "pytest_add_cli_args_test_selection": tests,
        "also_copy": list(_COPIED[1:]),
    }
    lines = [f"{name} = {json.dumps(value)}" for name, value in settings.items()]
    with (folder / "pyproject.toml").open("a", encoding="utf-8") as file:
        file.write("\n[tool.mutmut]\n" + "\n".join(lines) + "\n")
    return folder


def _outcomes(folder: Path, room: str) -> Iterator[tuple[str, str, str]]:
    """Module, name and outcome of every fault that was planted."""
    for path in sorted((folder / "mutants/src/orexis/core" / room).glob("*.meta")):
        found = json.loads(path.read_text("utf-8"))["exit_code_by_key"]
        for name, code in found.items():
            yield path.name.removesuffix(".py.meta"), name, status_by_exit_code[code]


def _drawn(folder: Path, room: str, only: str, count: int) -> list[str]:
    """So many faults of a room or of one module of it, drawn evenly, the same ones each time."""
    # It makes the faults before it finds that none has this name.
    subprocess.run([_MUTMUT, "run", "none"], cwd=folder, check=False, capture_output=True)
    names = [name for module, name, _ in _outcomes(folder, room) if only in ("", module)]
    return random.Random(1).sample(names, min(count, len(names)))


def main(room: str, only: str, sample: int) -> None:
    """Plants the faults of a room and prints what became of them, module by module, then those
    that no test found."""
    folder = _copied(room)
    wanted = [f"orexis.core.{room}.{only}.*"] if only else []
    if sample:
        wanted = _drawn(folder, room, only, sample)
    command = [_MUTMUT, "run", "--max-children", str(_AT_ONCE)]
    subprocess.run([*command, *wanted], cwd=folder, check=True)
    counts: dict[str, Counter[str]] = {}
    left: list[str] = []
    for module, name, outcome in _outcomes(folder, room):
        if sample and name not in wanted:
            continue
        counts.setdefault(module, Counter())[outcome] += 1
        if outcome in ("survived", "no tests", "suspicious"):
            left.append(f"{outcome:<10} {name}")
    print(f"{'module':<16}{'planted':>9}{'found':>8}{'left':>7}{'found, %':>10}")
    for module, count in [*counts.items(), ("all", sum(counts.values(), Counter[str]()))]:
        checked = sum(count.values()) - count["not checked"]
        found = count["killed"] + count["timeout"] + count["segfault"]
        if checked:
            share = 100 * found / checked
            print(f"{module:<16}{checked:>9}{found:>8}{checked - found:>7}{share:>10.1f}")
    print(*left, f"One of them in full: cd {folder} && mutmut show NAME", sep="\n")


if __name__ == "__main__":
    main(
        os.environ.get("ROOM") or "session",
        os.environ.get("ONLY") or "",
        int(os.environ.get("SAMPLE") or 0),
    )
