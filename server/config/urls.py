"""The API, and the application's one page for every other address."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from shop.api import api


@never_cache
@ensure_csrf_cookie
def index(request: HttpRequest) -> HttpResponse:
    """The page that the interface runs in."""
    file = settings.WEB / "index.html"
    if not file.exists():
        return HttpResponse("The interface is not built; run make setup.", status=503, content_type="text/plain")
    return HttpResponse(file.read_bytes())


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", index)]
