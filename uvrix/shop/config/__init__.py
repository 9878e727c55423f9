"""Settings, addresses, errors, access."""
