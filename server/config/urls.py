"""The API, the application's one page for each of its addresses, and whether all is well."""

import threading

from django.conf import settings
from django.db import connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from shop.api import api
from shop.asking import desk


@never_cache
@ensure_csrf_cookie
def index(request: HttpRequest, **place: str) -> HttpResponse:
    """The page that the interface runs in."""
    file = settings.WEB / "index.html"
    if not file.exists():
        return HttpResponse("The interface is not built; run make setup.", status=503, content_type="text/plain")
    return HttpResponse(file.read_bytes())


@never_cache
def health(request: HttpRequest) -> JsonResponse:
    """For a proxy or a monitor: whether the server reaches its database, and its workers are there. Those that have ended are started
    again; the next question finds them."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT count(*) FROM shop_machine")
    workers = desk().processes
    if dead := workers.dead():
        threading.Thread(target=workers.revive, daemon=True).start()
        return JsonResponse({"status": "workers ended", "ended": dead}, status=503)
    return JsonResponse({"status": "ok"})


def nothing_here(request: HttpRequest, exception: Exception) -> HttpResponse:
    """No such address."""
    if request.path.startswith("/api/"):
        return JsonResponse({"message": "There is nothing at this address.", "faults": []}, status=404)
    return HttpResponse("There is nothing at this address. The shop is at /\n", status=404, content_type="text/plain")


def failed(request: HttpRequest) -> HttpResponse:
    """What went wrong is in the log, with this reference."""
    reference = getattr(request, "reference", "")
    return JsonResponse(
        {
            "message": f"Something went wrong here. It is noted; its reference is {reference}.",
            "faults": [],
            "reference": reference,
        },
        status=500,
    )


handler404, handler500 = nothing_here, failed
urlpatterns = [
    path("api/", api.urls),
    path("health", health),
    path("", index),
    path("machines/<str:slug>/<str:stage>", index),
]
