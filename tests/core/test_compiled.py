"""What is compiled says the same as it is written, and stands on its own file alone."""

import ast
import json
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

import orexis
from tests.core.hearing import tracked
from tests.sounds import RATE, Samples, harmonic, noise

SOURCES = Path(orexis.__file__).parent
FILES = sorted(
    path for path in (SOURCES / "core").rglob("*.py") if "\n@compiled\n" in path.read_text("utf-8")
)


def compiled_functions(tree: ast.Module) -> list[ast.FunctionDef]:
    return [
        node
        for node in tree.body
        if isinstance(node, ast.FunctionDef)
        and any(
            isinstance(mark, ast.Name) and mark.id == "compiled" for mark in node.decorator_list
        )
    ]


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.stem)
def test_a_compiled_function_uses_nothing_of_ours_from_another_file(path: Path) -> None:
    # Its machine code is kept until its own file changes.
    tree = ast.parse(path.read_text("utf-8"))
    ours = {
        name.asname or name.name
        for node in tree.body
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("orexis")
        for name in node.names
    }
    functions = compiled_functions(tree)
    assert functions
    for function in functions:
        used = {
            node.id
            for part in function.body
            for node in ast.walk(part)
            if isinstance(node, ast.Name)
        }
        assert not used & ours, function.name


SOUND: Samples = np.concatenate(
    (harmonic(np.linspace(300.0, 330.0, 4800)), 0.5 * harmonic(np.full(4800, 97.0)))
) + noise(0.2, 0.003)

WITHOUT_COMPILING = """
import json, sys
import numpy as np
from numba import config
from tests.core.hearing import tracked
assert config.DISABLE_JIT
frames = tracked(np.array(json.load(sys.stdin)))
json.dump([frames.f0_hz.tolist(), frames.level_db.tolist(), frames.harmonicity_db.tolist()],
          sys.stdout)
"""


@pytest.mark.deep
def test_it_says_the_same_as_it_is_written() -> None:
    done = subprocess.run(
        [sys.executable, "-c", WITHOUT_COMPILING],
        input=json.dumps(SOUND.tolist()),
        env=os.environ | {"NUMBA_DISABLE_JIT": "1"},
        cwd=Path(__file__).parents[2],
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    frames = tracked(SOUND)
    assert len(frames) == len(SOUND) * 100 // RATE
    assert frames.voiced.sum() >= 12
    written = [np.array(row) for row in json.loads(done.stdout)]
    for made, row in zip(
        (frames.f0_hz, frames.level_db, frames.harmonicity_db), written, strict=True
    ):
        assert made == pytest.approx(row, rel=1e-9, nan_ok=True)


ONE_RUN = """
import logging
import numpy as np
logging.basicConfig(format="%(message)s")
{before}
from orexis.core.listening.notes.runs import runs
print(runs(np.array([False, True, True, False, True])))
"""


def one_run(before: str = "", **environment: str) -> tuple[str, str]:
    """What a process says that calls one compiled function, and what it logs."""
    done = subprocess.run(
        [sys.executable, "-c", ONE_RUN.format(before=before)],
        env=os.environ | environment,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    assert done.stdout == "[(1, 3), (4, 5)]\n"
    return done.stdout, done.stderr


@pytest.mark.deep
@pytest.mark.parametrize("left", [0, 1, 40, -20])
def test_kept_machine_code_that_cannot_be_read_is_made_anew(tmp_path: Path, left: int) -> None:
    place = {"NUMBA_CACHE_DIR": str(tmp_path)}
    one_run(**place)
    kept = [path for path in tmp_path.rglob("*") if path.suffix in (".nbi", ".nbc")]
    assert {path.suffix for path in kept} == {".nbi", ".nbc"}
    for path in kept:
        path.write_bytes(path.read_bytes()[:left])
    assert "Getting ready to listen" in one_run(**place)[1]
    # It is whole again.
    assert one_run(**place)[1] == ""


def test_without_a_place_to_keep_it_it_is_compiled_all_the_same() -> None:
    # The only place that is looked for is one that a notebook has.
    _, said = one_run(NUMBA_CACHE_LOCATOR_CLASSES="IPythonCacheLocator")
    assert "There is no place to keep what was compiled" in said
    assert "Getting ready to listen" in said


@pytest.mark.deep
def test_a_full_disk_keeps_nothing_and_stops_nothing(tmp_path: Path) -> None:
    full = """
from numba.core.caching import IndexDataCacheFile
def save(self, key, data): raise OSError(28, "No space left on device")
IndexDataCacheFile.save = save
"""
    _, said = one_run(full, NUMBA_CACHE_DIR=str(tmp_path))
    assert "No space left on device" in said


def test_where_nothing_can_be_compiled_it_runs_as_it_is_written() -> None:
    _, said = one_run('import sys; sys.modules["numba"] = None')
    assert "cannot compile its listening here" in said


FAILS = """
import logging, sys
import numpy as np
logging.basicConfig(format="%(message)s", stream=sys.stdout)
from orexis.core.listening.notes import passages, runs
from orexis.server import warming
calls = []
def fails_once():
    calls.append(runs.runs(np.array([True])))
    raise TypeError("numba does not know this")
warming.listen_once = fails_once
listening = warming.Listening()
listening.get_ready(waits=True)
assert listening.ready
print(type(runs._runs).__name__, runs.runs(np.array([True])) == calls[0])
"""


@pytest.mark.deep
def test_what_fails_while_it_is_compiled_runs_as_it_is_written_from_then_on() -> None:
    done = subprocess.run([sys.executable, "-c", FAILS], capture_output=True, text=True, check=True)
    assert "cannot compile its listening here" in done.stdout
    assert done.stdout.splitlines()[-1] == "function True"
