"""How a command ends that cannot go on."""

import typer


def stop(message: str) -> typer.Exit:
    """Says why, and gives the exit to raise: code 2."""
    typer.echo(message, err=True)
    return typer.Exit(2)
