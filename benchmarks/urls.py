"""The application's addresses, and one bare page with one query to measure beside them."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpResponse
from django.urls import include, path

from web.ground.models import Plot


@login_not_required
def bare(request):
    return HttpResponse(f"<!DOCTYPE html><title>bare</title><p>{Plot.objects.count()} plots</p>")


urlpatterns = [path("bare/", bare), path("", include("web.config.urls"))]
