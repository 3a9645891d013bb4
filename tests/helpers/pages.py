"""A page as a browser reads it, where any run of white space is one space."""

from django.http import HttpResponse
from django.test import Client
from django.urls import reverse


def text_of(response: HttpResponse) -> str:
    return " ".join(response.content.decode().split())


def page(client: Client, name: str, *args, **query) -> str:
    """The text of the page of that name, which must be there."""
    answer = client.get(reverse(name, args=args), query)
    assert answer.status_code == 200, name
    return text_of(answer)
