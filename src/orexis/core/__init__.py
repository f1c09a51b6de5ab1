"""The rules of the job: pure computation, no I/O, no interface."""
