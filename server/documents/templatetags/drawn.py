"""How a drawing stands in a sheet."""

from __future__ import annotations

import base64
import re
from html import unescape

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString

register = template.Library()
SPOKEN = re.compile(r'<svg\b[^>]*?\baria-label="([^"]*)"')


@register.filter
def picture(svg: str) -> SafeString:
    """A drawing as a picture with what it is called.

    Put in among the text, each of its parts would be read and styled as part of the page: that takes most of the time.
    """
    if not svg:
        return SafeString("")
    if "xmlns=" not in svg.partition(">")[0]:
        svg = svg.replace("<svg", '<svg xmlns="http://www.w3.org/2000/svg"', 1)
    spoken = SPOKEN.match(svg)
    source = f"data:image/svg+xml;base64,{base64.b64encode(svg.encode()).decode()}"
    return format_html('<img alt="{}" src="{}" />', unescape(spoken[1]) if spoken else "drawing", source)
