"""Sign-in, sign-out, invitations."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.contrib.auth import authenticate, login
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.utils import timezone

from uvrix.shop.accounts.models import Invitation, Role, User
from uvrix.shop.config.problems import Problem

INVITATION_DAYS = 7


def sign_in(request: HttpRequest, username: str, password: str) -> User:
    """Sign a person in; the same answer for a wrong name and a wrong password (locked out: config.problems)."""
    user = authenticate(request, username=username, password=password)
    if not isinstance(user, User):
        raise Problem(400, "wrong-sign-in", "Name and password do not fit. Nothing else was checked.")
    login(request, user)
    return user


def invite(role: Role) -> str:
    """A new one-time token for a person of this role."""
    token = secrets.token_urlsafe(32)
    expires = timezone.now() + timedelta(days=INVITATION_DAYS)
    Invitation.objects.create(token_hash=_hash(token), role=role, expires_at=expires)
    return token


@transaction.atomic
def accept_invitation(token: str, username: str, name: str, password: str) -> User:
    """The person that an invitation makes; each serves once."""
    invitation = Invitation.objects.select_for_update().filter(token_hash=_hash(token)).first()
    if invitation is None or invitation.accepted_by_id or invitation.expires_at < timezone.now():
        raise Problem(410, "invitation-over", "This link was used or has run out. Ask for a new one.")
    first, _, last = name.strip().partition(" ")
    user = User(username=username, first_name=first, last_name=last, role=invitation.role)
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Problem(422, "weak-password", " ".join(error.messages)) from None
    user.set_password(password)
    try:
        with transaction.atomic():
            user.save()
    except IntegrityError:
        raise Problem(409, "name-taken", f"The name {username} is taken; choose another.") from None
    invitation.accepted_by = user
    invitation.save()
    return user


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
