"""People, roles, sign-in, invitations."""
