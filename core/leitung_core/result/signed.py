"""What a signature covers, and its digest: anyone can work it out again from the file alone."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from typing import Any

FORMAT = "leitung-record"
# 2: trials are among the records. 3: values read in steps, what was passed over. 4: that of trials too, and meters.
VERSION = 4


def digest_of(content: Mapping[str, Any]) -> str:
    """SHA-256 over the content as JSON with its keys sorted, no spaces, UTF-8."""
    text = json.dumps(content, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False)
    return hashlib.sha256(text.encode()).hexdigest()
