"""Who may do what. A denial carries its reason and is falsy."""

from contextlib import suppress
from dataclasses import dataclass
from typing import Literal

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth.backends import ModelBackend
from django.contrib.auth.models import AbstractBaseUser, AnonymousUser, Group, User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db.models import ProtectedError, Sum
from django.http import HttpRequest, JsonResponse
from django.utils import timezone
from orthotrope.errors import InputError

from shop.models import AuditEntry

Role = Literal["viewer", "technician", "supervisor"]
ROLES: tuple[Role, ...] = ("viewer", "technician", "supervisor")
"""Each may do all that those before it may."""


class Accounts(ModelBackend):
    """Accounts with passwords; those without, a demo's, only while it is one: its sessions end with it."""

    def user_can_authenticate(self, user: User | AnonymousUser | None) -> bool:
        allowed = super().user_can_authenticate(user)
        return allowed and isinstance(user, User) and (settings.DEMO or user.has_usable_password())


def address(request: HttpRequest) -> str:
    """Where a request comes from; what a proxy says of it is believed only of the one that the settings name."""
    sender = str(request.META.get("REMOTE_ADDR", ""))
    if settings.PROXY and sender == settings.PROXY:
        return str(request.META.get("HTTP_X_FORWARDED_FOR", sender)).rsplit(",", 1)[-1].strip()
    return sender


MOST_FROM_ONE = 20
"""Wrong passwords from one address within :data:`settings.AXES_COOLOFF_TIME`, whatever the names, after which it has to wait."""

WAIT_MINUTES = round(settings.AXES_COOLOFF_TIME.total_seconds() / 60)


def sprayed(where: str, name: str) -> bool:
    """Whether too many wrong passwords came from an address, of whichever names. Someone who has signed in from there before is let
    try: nobody is kept out by what others do at the same address."""
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    tried = AccessAttempt.objects.filter(ip_address=where, attempt_time__gte=since)
    wrong = tried.aggregate(all=Sum("failures_since_start"))["all"] or 0
    if wrong < MOST_FROM_ONE:
        return False
    return not AuditEntry.objects.filter(action="sign in", user__username=name, details__address=where).exists()


def locked_out(request: HttpRequest, *args: object, **kwargs: object) -> JsonResponse:
    """What someone reads who has tried too many passwords."""
    minutes = settings.AXES_COOLOFF_TIME.total_seconds() / 60
    message = (
        f"{settings.AXES_FAILURE_LIMIT} wrong passwords for this name. Wait {minutes:.0f} minutes, then try again."
    )
    return JsonResponse({"message": message, "faults": []}, status=429)


@dataclass(frozen=True, slots=True)
class Denial:
    """Not allowed, and why."""

    reason: str

    def __bool__(self) -> bool:
        return False


def role_of(user: AbstractBaseUser | AnonymousUser) -> Role:
    """The highest role that the user's groups give; viewer where there is none."""
    names = set(Group.objects.filter(user=user.pk).values_list("name", flat=True))
    return next((role for role in reversed(ROLES) if role in names), "viewer")


def may_change(user: AbstractBaseUser | AnonymousUser) -> Literal[True] | Denial:
    """Whether the user may change Setups and run proofs."""
    if role_of(user) == "viewer":
        return Denial("A viewer reads and changes nothing. Sign in as a technician or supervisor to change this.")
    return True


def may_arrange(user: AbstractBaseUser | AnonymousUser) -> Literal[True] | Denial:
    """Whether the user may rearrange all tools of a changer at once."""
    changes = may_change(user)
    if not changes:
        return changes
    if role_of(user) != "supervisor":
        return Denial(
            "Only a supervisor rearranges all tools at once. Sign in as a supervisor, or move tools one by one."
        )
    return True


def make_account(name: str, role: Role, password: str | None) -> User:
    """A new account with a role, or the one of that name with its role and password set. Without a password (None)
    nobody can sign in to it by name: a demo's accounts are of no use once the server is started otherwise.

    Raises:
        InputError: where the name or the password won't do, with the reasons.
    """
    if not name.strip() or len(name) > 150 or not name.isprintable():
        raise InputError.at("/name", "An account's name has 1 to 150 printable characters.")
    if password is not None:
        try:
            validate_password(password, User(username=name))
        except ValidationError as weak:
            raise InputError.at("/password", " ".join(weak.messages)) from None
    user, made = User.objects.get_or_create(username=name)
    before = None if made else role_of(user)
    user.set_password(password)
    user.is_active = True
    user.save()
    group, _ = Group.objects.get_or_create(name=role)
    user.groups.set([group])
    done = "make account" if made else "set role and password"
    AuditEntry.objects.create(action=done, details={"account": name, "role": role, "before": before})
    return user


def lock_account(name: str, locked: bool) -> None:
    """Lock an account, or let it in again; what it has done stays under its name, and its sessions end.

    Raises:
        InputError: where there is none.
    """
    user = _named(name)
    user.is_active = not locked
    user.save(update_fields=["is_active"])
    AuditEntry.objects.create(action="lock account" if locked else "unlock account", details={"account": name})


def remove_account(name: str) -> None:
    """Remove an account: nobody can sign in to it or act by it. Its name stays with what it has done.

    Raises:
        InputError: where there is none.
    """
    user = _named(name)
    user.is_active = False
    user.set_unusable_password()
    user.save(update_fields=["is_active", "password"])
    user.groups.clear()
    with suppress(ProtectedError):
        user.delete()
    AuditEntry.objects.create(action="remove account", details={"account": name})


def _named(name: str) -> User:
    user = User.objects.filter(username=name).first()
    if user is None:
        raise InputError.at("/name", f"There is no account {name}.")
    return user
