"""Sign-in, sign-out, invitations."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import Any

from django.contrib.auth import authenticate, login, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.utils import timezone

from uvrix.shop.accounts.models import AccountEvent, Invitation, User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.roles import Role

INVITATION_DAYS = 7


def sign_in(request: HttpRequest, username: str, password: str) -> User:
    """Sign a person in; the same answer for a wrong name and a wrong password (locked out: config.problems)."""
    user = authenticate(request, username=username, password=password)
    if not isinstance(user, User):
        raise Problem(400, "wrong-sign-in", "Name and password do not fit. Nothing else was checked.")
    login(request, user)
    request.session["since"] = timezone.now().isoformat()
    request.session["browser"] = request.headers.get("User-Agent", "")[:200]
    return user


def invite(role: Role, by: User | None = None) -> str:
    """A new one-time token for a person of this role; `by` is empty for the first lead of an empty shop."""
    token = secrets.token_urlsafe(32)
    expires = timezone.now() + timedelta(days=INVITATION_DAYS)
    Invitation.objects.create(token_hash=_hash(token), role=role, expires_at=expires)
    AccountEvent.objects.create(words=f"Invited a {Role(role).label.lower()}.", by=by)
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
    AccountEvent.objects.create(user=user, words=f"Accepted an invitation as {Role(user.role).label.lower()}.", by=user)
    return user


@transaction.atomic
def change_person(user: User, *, role: str | None, active: bool | None, by: User) -> User:
    """Another role, or switched off or on. Raises Problem 409 `last-lead` where no lead would be left."""
    everyone = User.objects.select_for_update().filter(role=Role.LEAD, is_active=True)
    leads = set(everyone.values_list("pk", flat=True))
    loses = user.pk in leads and (active is False or role not in {None, Role.LEAD})
    if loses and len(leads) == 1:
        raise Problem(409, "last-lead", f"{user.shown_name} is the only lead; make somebody else one first.")
    if role is not None and role != user.role:
        user.role = role
        AccountEvent.objects.create(user=user, words=f"Is {Role(role).label.lower()} from now on.", by=by)
    if active is not None and active != user.is_active:
        user.is_active = active
        AccountEvent.objects.create(user=user, words="Switched on." if active else "Switched off.", by=by)
        if not active:
            for key, _, owner in open_sessions():
                if owner == user.pk:
                    end_session(key)
    user.save(update_fields=["role", "is_active"])
    return user


def change_password(request: HttpRequest, user: User, old: str, new: str) -> None:
    """A new password of one's own, by the framework's rules; other sessions of the person end."""
    if not user.check_password(old):
        raise Problem(400, "wrong-password", "The old password does not fit.")
    try:
        validate_password(new, user)
    except ValidationError as error:
        raise Problem(422, "weak-password", " ".join(error.messages)) from None
    user.set_password(new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    AccountEvent.objects.create(user=user, words="Changed the password.", by=user)


def open_sessions() -> list[tuple[str, dict[str, Any], int]]:
    """Every session that is signed in: its key, what it holds, whose it is."""
    found = []
    for session in Session.objects.filter(expire_date__gt=timezone.now()):
        held = session.get_decoded()
        if owner := held.get("_auth_user_id"):
            found.append((session.session_key, held, int(owner)))
    return found


def end_session(key: str) -> None:
    """Sign a browser out from afar."""
    Session.objects.filter(session_key=key).delete()


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
