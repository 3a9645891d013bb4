"""Addresses of the API, and of the page where its tokens are made."""

from django.urls import path

from web.api import tokens
from web.api.api import api

by_token = api.urls
for pattern in by_token[0]:
    pattern.callback.login_required = False  # the API asks for its token itself

app_name = "api"
urlpatterns = [
    path("tokens/", tokens.tokens, name="tokens"),
    path("tokens/<int:pk>/take-back/", tokens.drop_token, name="drop_token"),
]
