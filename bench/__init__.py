"""What Orexis claims of speed and accuracy, measured: `make bench`."""
