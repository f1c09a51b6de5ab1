"""The live socket: sound in, frames and verdicts out."""
