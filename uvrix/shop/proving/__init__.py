"""Prove: the protocol, logs of the test computer, before and after, a fault that comes late."""
