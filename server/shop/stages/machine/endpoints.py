"""Trying a control profile."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from shop.endpoint import ROUTERS, computed, computed_as
from shop.stages.machine import jobs
from shop.taken import Taken

router = Router()
ROUTERS.add("machine", router)


class ProfileIn(Taken):
    profile: dict[str, Any]


@router.post("/profile-sample", response=computed_as(jobs.ProfileAnswer))
def profile_sample(request: HttpRequest, body: ProfileIn) -> HttpResponse:
    """A sample program in a control profile, and whether it reads back as what was meant; nothing is stored."""
    return computed(request, "profile", jobs.profile_sample, body.profile)
