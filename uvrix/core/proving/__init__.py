"""Prove: logs of the test computer, steadiness, the protocol and what each of its checks comes to."""
