"""Prints every text that a player can meet, by room, with where it stands.

Python texts are the strings that read as words and are no docstrings; those of the front end are
what stands between tags, in labels, and in strings that read as words.
"""

import ast
import re
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import groupby
from pathlib import Path

ROOT = Path(__file__).parents[1]
_PYTHON, _WEB = ROOT / "src" / "orexis", ROOT / "web" / "src"
_NOT_READ = ("store/migrations", "core/compiled")
_READS_AS_WORDS = re.compile(r"[A-Za-z]{2,}[,.:;]? [A-Za-z]")
_LONE_WORD = re.compile(r"[A-Z]?[a-z]+(?:-[a-z]+)*")
_BETWEEN_TAGS = re.compile(r">([^<>{}]+)[<{]|}([^<>{}]+)[<{]")
_LABELS = re.compile(r"(?:aria-label|title|placeholder|label|alt|words)=\"([^\"]+)\"")
_STRINGS = re.compile(r"'((?:[^'\\\n]|\\.)+)'|`((?:[^`\\]|\\.)+)`|\"([^\"\n]+)\"")
_PLACES = re.compile(r"\$?\{[^{}]*\}")
_COMMENTS = re.compile(r"/\*.*?\*/|(?<!:)//[^\n]*|<!--.*?-->", re.DOTALL)
_CODE = re.compile(r"<(script|style)[^>]*>(.*?)</\1>", re.DOTALL)
_MARKUP = re.compile(
    r"^[MLCAZmlcaz\d\s.,-]+$|^(?:var|calc|url|translate|repeat|min|max|0 0)\b|[{}<>=]"
)


@dataclass(frozen=True, slots=True)
class Text:
    """A text, and the file (from the project's root) and line it stands in."""

    words: str
    path: str
    line: int

    @property
    def room(self) -> str:
        """The room that it belongs to: two folders of its path."""
        parts = Path(self.path).parts
        return "/".join(parts[2:4] if parts[0] == "src" else parts[1:3])


def texts() -> list[Text]:
    """All texts, by file and line."""
    found: list[Text] = []
    for path in sorted(_PYTHON.rglob("*.py")):
        if not any(part in path.as_posix() for part in _NOT_READ):
            found += _of_python(path)
    for path in sorted((*_WEB.rglob("*.svelte"), *_WEB.rglob("*.ts"))):
        if not path.name.endswith((".test.ts", ".generated.d.ts")):
            found += _of_web(path)
    return found


def _of_python(path: Path) -> Iterator[Text]:
    tree = ast.parse(path.read_text())
    own = path.relative_to(ROOT).as_posix()
    standing = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    inside: set[int] = set()
    for node in ast.walk(tree):
        if id(node) in standing or id(node) in inside:
            continue
        if isinstance(node, ast.JoinedStr):
            inside |= {id(each) for each in ast.walk(node)} - {id(node)}
            words = "".join(
                str(part.value) if isinstance(part, ast.Constant) else "…" for part in node.values
            )
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            words = node.value
        else:
            continue
        if _READS_AS_WORDS.search(words):
            yield Text(" ".join(words.split()), own, node.lineno)


def _of_web(path: Path) -> Iterator[Text]:
    whole = _COMMENTS.sub(_blank, path.read_text())
    own = path.relative_to(ROOT).as_posix()
    markup = whole if path.suffix == ".svelte" else ""
    code = whole if path.suffix == ".ts" else ""
    for part in _CODE.finditer(whole if markup else ""):
        markup = markup.replace(part[0], _blank(part))
        if part[1] == "script":
            code += "\n" * whole[: part.start(2)].count("\n") + part[2]
    for pattern, source in ((_BETWEEN_TAGS, markup), (_LABELS, markup), (_STRINGS, code)):
        for match in pattern.finditer(source):
            words = " ".join(next((group for group in match.groups() if group), "").split())
            words = _PLACES.sub("…", words)
            if _is_text(words, alone=pattern is not _STRINGS):
                start = match.start() + len(match[0]) - len(match[0].lstrip("> \n}"))
                yield Text(words, own, source[:start].count("\n") + 1)


def _blank(match: re.Match[str]) -> str:
    """As many lines of nothing."""
    return "\n" * match[0].count("\n")


def _is_text(words: str, *, alone: bool) -> bool:
    if _MARKUP.search(words):
        return False
    return bool(_READS_AS_WORDS.search(words) or (alone and _LONE_WORD.fullmatch(words)))


def main() -> None:
    """Prints them, a room after the other, with how many words a sentence has."""
    rooms = sorted(texts(), key=lambda text: (text.room, text.path, text.line))
    for room, rows in groupby(rooms, lambda text: text.room):
        there = list(rows)
        words = [len(text.words.split()) for text in there]
        print(f"\n## {room}: {len(there)} texts, {sum(words) / len(words):.1f} words each\n")
        for text in there:
            print(f"{text.path}:{text.line}: {text.words}")


if __name__ == "__main__":
    main()
