"""The `orexis` command. Each command's module is loaded when that command is run, so that the
others cost it nothing."""

import gc
from importlib import import_module
from typing import Any

import typer
from typer.core import TyperCommand, TyperGroup

_COMMANDS = {
    "serve": "Starts Orexis on this computer.",
    "demo": "Starts Orexis with the demo band's data, in a file of its own.",
    "analyse": "Listens to a WAV, FLAC or Ogg file and tells what it heard.",
    "listen": "Listens to free playing, from the microphone or a file, and tells how it went.",
    "follow": "Follows a written part in a recording of it, note by note.",
    "play": "Has the stand-in player play notes into a WAV file.",
    "horn": "Shows an instrument's fingerings, slots, glides and slurs.",
    "plan": "Plans a player's day, and says why.",
    "simulate": "Simulates weeks of a player's plans with a model of the lips.",
    "report": "Writes a report for a teacher, one zip that opens anywhere.",
    "backup": "Copies the data file, while Orexis runs or not.",
    "restore": "Puts a copy in the place of the data file, and keeps what it replaces.",
    "check": "Checks the data file: nothing is lost, and every sound can be played.",
    "exercise": "Writes an exercise for an instrument, to read, print, hear or carry elsewhere.",
}
_HIDDEN = {"openapi": "Prints the API's description, from which the front end's types are made."}


class _Commands(TyperGroup):
    """Lists the commands without loading them."""

    def list_commands(self, ctx: Any) -> list[str]:
        return [*_COMMANDS, *_HIDDEN]

    def get_command(self, ctx: Any, cmd_name: str) -> TyperCommand | None:
        said = {**_COMMANDS, **_HIDDEN}.get(cmd_name)
        return (
            None if said is None else TyperCommand(cmd_name, help=said, hidden=cmd_name in _HIDDEN)
        )

    def resolve_command(self, ctx: Any, args: list[str]) -> tuple[str | None, Any, list[str]]:
        name, command, rest = super().resolve_command(ctx, args)
        return name, command and _loaded(command.name or ""), rest


def _loaded(name: str) -> Any:
    # What a module makes while it loads stays; looking for garbage among it costs a tenth.
    gc.disable()
    module = import_module(f"{__name__}.{name}")
    gc.enable()
    alone = typer.Typer(add_completion=False)
    settings: dict[str, Any] = getattr(module, "SETTINGS", {})
    alone.command(name, **settings)(getattr(module, name))
    return typer.main.get_command(alone)


app = typer.Typer(cls=_Commands, no_args_is_help=True)


@app.callback()
def orexis() -> None:
    """Orexis listens to brass practice."""
