"""What is done to accounts on the server."""
