"""From sound to measurements: frames, notes and what is measured of them."""
