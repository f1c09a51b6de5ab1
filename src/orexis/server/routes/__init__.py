"""The HTTP routes, one module per thing they are about."""
