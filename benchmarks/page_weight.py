"""What goes over the wire for a page: compressed HTML, and for a first visit all that it links to."""

import re
from pathlib import Path

from django.conf import settings
from django.test import Client

LINKED = re.compile(r'(?:href|src)="/static/([^"]+\.(?:css|js|svg|png))"')
FONTS = re.compile(r"url\(\"?([^\")]+\.woff2)")


def _compressed(file: Path) -> int:
    """Bytes of a file as the server sends it: the packed copy beside it where there is one."""
    packed = file.with_name(file.name + ".gz")
    return min(file.stat().st_size, packed.stat().st_size) if packed.exists() else file.stat().st_size


def weights(client: Client, addresses: dict[str, str]) -> dict[str, tuple[int, int]]:
    """Bytes of each page's HTML as sent, and of its first load: styles, scripts, drawings and the fonts of western letters too."""
    found, root = {}, Path(settings.STATIC_ROOT)
    for name, address in addresses.items():
        plain = client.get(address).content.decode()
        html = len(client.get(address, headers={"Accept-Encoding": "gzip"}).content)
        files = {root / link for link in LINKED.findall(plain)}
        fonts = {
            (style.parent / font).resolve()
            for style in files
            if style.suffix == ".css"
            for font in FONTS.findall(style.read_text(encoding="utf-8"))
            if "latin-ext" not in font
        }
        found[name] = html, html + sum(_compressed(file) for file in files | fonts)
    return found
