"""Who may do what. A denial carries its reason and is falsy."""

from dataclasses import dataclass
from typing import Literal

from django.contrib.auth.models import AbstractBaseUser, AnonymousUser, Group, User

Role = Literal["viewer", "technician", "lead"]
ROLES: tuple[Role, ...] = ("viewer", "technician", "lead")
"""Each may do all that those before it may."""


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
        return Denial("A viewer reads and changes nothing. Sign in as a technician or lead to change this.")
    return True


def may_arrange(user: AbstractBaseUser | AnonymousUser) -> Literal[True] | Denial:
    """Whether the user may rearrange all tools of a changer at once."""
    changes = may_change(user)
    if not changes:
        return changes
    if role_of(user) != "lead":
        return Denial("Only a lead rearranges all tools at once. Sign in as a lead, or move tools one by one.")
    return True


def make_account(name: str, role: Role, password: str | None) -> User:
    """A new account with a role, or the one of that name with its role and password set. Without a password nobody can
    sign in to it by name: a demo's accounts are of no use once the server is started otherwise."""
    user, _ = User.objects.get_or_create(username=name)
    user.set_password(password)
    user.save()
    group, _ = Group.objects.get_or_create(name=role)
    user.groups.set([group])
    return user
