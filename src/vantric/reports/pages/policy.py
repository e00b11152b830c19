"""What a page may do, by Content Security Policy Level 3: run its own script, use its own style, and nothing else."""

from __future__ import annotations

import base64
import hashlib


def policy(style: str, script: str) -> str:
    """Return the policy of a page with one style and one script."""
    return (
        f"default-src 'none'; style-src {_hash(style)}; script-src {_hash(script)}; font-src data:; "
        "base-uri 'none'; form-action 'none'"
    )


def _hash(text: str) -> str:
    return f"'sha256-{base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()}'"
