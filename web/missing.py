"""A page that needs something first: it says what, and leads there."""

from django.http import Http404


class Missing(Http404):
    """What is missing, in a sentence; the address where it is brought, and what its link says."""

    def __init__(self, says: str, address: str, link: str):
        super().__init__(says)
        self.says, self.address, self.link = says, address, link
