"""Sign-in, sign-out, invitations."""

from __future__ import annotations

import hashlib
import re
import secrets
from datetime import timedelta
from typing import Any

from django.contrib.auth import authenticate, login, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone

from uvrix.language import gettext
from uvrix.shop.accounts.models import AccountEvent, Invitation, User
from uvrix.shop.accounts.second_factor import check_code, forget_second_factor
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.roles import Role

INVITATION_DAYS, RECOVERY_DAYS = 7, 2
# What one signs in with: it stands in addresses and lists, and must look like no other.
USERNAME = re.compile(r"[a-z0-9](?:[a-z0-9._-]{0,28}[a-z0-9])?")


def sign_in(request: HttpRequest, username: str, password: str, code: str = "") -> User:
    """Sign a person in; the same answer for a wrong name and a wrong password (locked out: config.problems).

    Raises Problem 400 `code-wanted`, `wrong-code` where the person has a second factor.
    """
    user = authenticate(request, username=username, password=password)
    if not isinstance(user, User):
        raise Problem(400, "wrong-sign-in", gettext("Name or password is wrong. Nothing else was checked."))
    check_code(user, code)
    login(request, user)
    request.session["since"] = timezone.now().isoformat()
    request.session["browser"] = request.headers.get("User-Agent", "")[:200]
    return user


def signed_out(user: User) -> None:
    """Somebody signed out, or was: what was given in their name before ends too."""
    User.objects.filter(pk=user.pk).update(signed_out_at=timezone.now())


def invite(role: Role, by: User | None = None) -> str:
    """A new one-time token for a person of this role; `by` is empty for the first lead of an empty shop."""
    token = secrets.token_urlsafe(32)
    expires = timezone.now() + timedelta(days=INVITATION_DAYS)
    Invitation.objects.create(token_hash=_hash(token), role=role, expires_at=expires)
    AccountEvent.objects.create(words=gettext("Invited a {label}.", label=Role(role).label.lower()), by=by)
    return token


def recovery(user: User, by: User | None = None) -> str:
    """A one-time token by which a person chooses a new password; `by` is empty on the server's command line."""
    token = secrets.token_urlsafe(32)
    expires = timezone.now() + timedelta(days=RECOVERY_DAYS)
    Invitation.objects.create(token_hash=_hash(token), role=user.role, expires_at=expires, user=user)
    AccountEvent.objects.create(user=user, words=gettext("Got a link for a new password."), by=by)
    return token


def found_invitation(token: str) -> Invitation:
    """The invitation of a token. Raises Problem 410 `invitation-over` where it was used or has run out."""
    invitation = Invitation.objects.select_for_update().filter(token_hash=_hash(token)).first()
    if invitation is None or invitation.accepted_by_id or invitation.expires_at < timezone.now():
        raise Problem(410, "invitation-over", gettext("This link has been used or has expired. Ask for a new one."))
    return invitation


@transaction.atomic
def accept_invitation(token: str, username: str, name: str, password: str) -> User:
    """The person that an invitation makes, or whose new password it sets; each serves once.

    Raises Problem 422 `no-username`, `weak-password`; 409 `name-taken`.
    """
    invitation = found_invitation(token)
    user = invitation.user or _new_person(invitation, username, name)
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Problem(422, "weak-password", " ".join(error.messages)) from None
    user.set_password(password)
    user.save()
    if invitation.user:
        # whoever lost the password may have lost the phone with it
        forget_second_factor(user)
        end_all_sessions(user)
    said = (
        gettext("Chose a new password by a link.")
        if invitation.user
        else gettext("Accepted an invitation as {label}.", label=_label(user))
    )
    invitation.accepted_by = user
    invitation.save()
    AccountEvent.objects.create(user=user, words=said, by=user)
    return user


def _new_person(invitation: Invitation, username: str, name: str) -> User:
    username = username.strip()
    if not USERNAME.fullmatch(username):
        expected = gettext("small letters a to z, digits, and . _ - between them, at most 30")
        raise Problem(
            422,
            "no-username",
            gettext(
                "found {username} to sign in with, expected {expected}", username=repr(username), expected=expected
            ),
        )
    if User.objects.filter(username__iexact=username).exists():
        raise Problem(409, "name-taken", gettext("The name {username} is taken; choose another.", username=username))
    first, _, last = name.strip().partition(" ")
    return User(username=username, first_name=first, last_name=last, role=invitation.role)


def _label(user: User) -> str:
    return Role(user.role).label.lower()


@transaction.atomic
def change_person(user: User, *, role: str | None, active: bool | None, by: User) -> User:
    """Another role, or switched off or on. Raises Problem 409 `last-lead` where no lead would be left."""
    everyone = User.objects.select_for_update().filter(role=Role.LEAD, is_active=True)
    leads = set(everyone.values_list("pk", flat=True))
    loses = user.pk in leads and (active is False or role not in {None, Role.LEAD})
    if loses and len(leads) == 1:
        raise Problem(
            409,
            "last-lead",
            gettext("{shown_name} is the only lead; make somebody else one first.", shown_name=user.shown_name),
        )
    if role is not None and role != user.role:
        user.role = role
        AccountEvent.objects.create(
            user=user, words=gettext("Is {label} from now on.", label=Role(role).label.lower()), by=by
        )
    if active is not None and active != user.is_active:
        user.is_active = active
        AccountEvent.objects.create(
            user=user, words=gettext("Switched on.") if active else gettext("Switched off."), by=by
        )
        if not active:
            end_all_sessions(user)
    user.save(update_fields=["role", "is_active"])
    return user


def change_password(request: HttpRequest, user: User, old: str, new: str) -> None:
    """A new password of one's own, by the framework's rules; other sessions of the person end."""
    if not user.check_password(old):
        raise Problem(400, "wrong-password", gettext("The old password is wrong."))
    try:
        validate_password(new, user)
    except ValidationError as error:
        raise Problem(422, "weak-password", " ".join(error.messages)) from None
    user.set_password(new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    signed_out(user)
    AccountEvent.objects.create(user=user, words=gettext("Changed the password."), by=user)


def open_sessions() -> list[tuple[str, dict[str, Any], int]]:
    """Every session that is signed in: its key, what it holds, whose it is."""
    found = []
    for session in Session.objects.filter(expire_date__gt=timezone.now()):
        held = session.get_decoded()
        if owner := held.get("_auth_user_id"):
            found.append((session.session_key, held, int(owner)))
    return found


def end_session(key: str, owner: int) -> None:
    """Sign a browser of a person out from afar."""
    Session.objects.filter(session_key=key).delete()
    User.objects.filter(pk=owner).update(signed_out_at=timezone.now())


def end_all_sessions(user: User) -> None:
    """Sign a person out everywhere."""
    for key, _, owner in open_sessions():
        if owner == user.pk:
            end_session(key, owner)


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
