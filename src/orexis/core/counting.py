"""Things counted, in words."""


def counted(count: int, thing: str) -> str:
    """A number of things: "1 break", "2 breaks"."""
    return f"{count} {thing}{'' if count == 1 else 's'}"
