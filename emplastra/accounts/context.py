"""What every template knows."""

from django.conf import settings

from emplastra.shared import clock


def workshop(request):
    """The workshop, the moment, the profile and whether gloves are on."""
    return {
        "workshop": request.workshop,
        "now": clock.now(),
        "demo_time": clock.is_demo(),
        "profile": settings.PROFILE,
        "gloves": request.COOKIES.get("gloves") == "1",
    }
