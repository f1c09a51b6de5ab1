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
