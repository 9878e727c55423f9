"""Settings, addresses, errors, access, and how shapes of the API are declared."""
