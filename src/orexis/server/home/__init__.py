"""Serving the devices of the house: addresses, certificates, pairing, and the door they come by."""
