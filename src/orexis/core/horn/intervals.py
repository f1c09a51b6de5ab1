"""Intervals by their names, by how many half steps they have."""

INTERVALS = (
    *("unison", "half step", "whole step", "minor third", "major third", "fourth", "tritone"),
    *("fifth", "minor sixth", "major sixth", "minor seventh", "major seventh", "octave"),
)
