"""`orexis play`: the stand-in player, into a file, with the truth beside it."""

import json
from pathlib import Path
from typing import Annotated

import numpy as np
import typer

from orexis.cli.ending import stop
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import parse_row
from orexis.formats.audio import pcm_from_floats, wav_from_pcm
from orexis.standin.performance import perform
from orexis.standin.profiles import PROFILES, Skilled
from orexis.standin.score import Change
from orexis.standin.tone import MOUTHPIECE, timbre_of

_RATE = 48_000
_LONGEST_S = 600.0


def play(
    file: Path,
    instrument: Annotated[str, typer.Option(help="The instrument's key.")],
    notes: Annotated[str, typer.Option(help='Sounding notes, such as "Bb3 D4 F4".')],
    skilled: Annotated[
        Skilled, typer.Option("--as", help="How well the player plays.")
    ] = Skilled.EXPERIENCED,
    seconds: Annotated[float, typer.Option(min=0.05, max=60, help="How long each note is.")] = 0.8,
    slurred: Annotated[bool, typer.Option(help="Slurred, on one breath.")] = False,
    buzz: Annotated[bool, typer.Option(help="On the mouthpiece alone.")] = False,
    seed: Annotated[
        int, typer.Option(help="Seed of the random numbers; another one makes other faults.")
    ] = 1,
) -> None:
    """Lets the stand-in player play notes into a WAV file; what is true of them goes beside it.

    The truth is written from the score, not measured, in the shape of the analysis document.
    """
    try:
        horn = find_instrument(instrument)
        played = parse_row(notes, horn.start_midi)
    except ValueError as error:
        raise stop(str(error)) from error
    if not played:
        raise stop('Say which notes to play: --notes "Bb3 D4 F4".')
    if len(played) * seconds > _LONGEST_S:
        raise stop(f"That lasts longer than {_LONGEST_S:g} s. Ask for fewer or shorter notes.")
    score = PROFILES[skilled].score(
        tuple(played),
        horn.start_midi,
        np.random.default_rng(seed),
        seconds=seconds,
        change=Change("slur" if slurred else "tongued"),
    )
    timbre = MOUTHPIECE if buzz else timbre_of(horn.fundamental_midi)
    performance = perform(score, timbre, _RATE, seed=seed)
    truth = file.with_suffix(".truth.json")
    try:
        file.write_bytes(wav_from_pcm(pcm_from_floats(performance.samples), _RATE))
        truth.write_text(json.dumps(performance.truth, ensure_ascii=False), encoding="utf-8")
    except OSError as error:
        raise stop(f"{file} cannot be written: {error.strerror}.") from error
    typer.echo(f"{file.name}: {len(performance.truth['notes'])} notes. Truth: {truth.name}.")
