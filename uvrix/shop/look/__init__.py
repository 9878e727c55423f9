"""Looking before any meter: regions looked at, findings with place and photograph, overlays."""
