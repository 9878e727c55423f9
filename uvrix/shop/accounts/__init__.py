"""People, roles, sign-in, invitations, second factor, audit."""
