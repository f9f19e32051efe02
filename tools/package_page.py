"""The README as a package page shows it: its links and pictures lead to where the documents are.

`EMBERWOUND_PAGES` is the address of this repository's files, such as `https://files.example/emberwound/main/`, when a
release is built; without it links stay as they are.
"""

from __future__ import annotations

import os
import re
from pathlib import Path
from typing import Any

from hatchling.metadata.plugin.interface import MetadataHookInterface

ADDRESS = "EMBERWOUND_PAGES"
LINK = re.compile(r"(\]\()(?!https?:|#)([^)]+\))")


class PackagePage(MetadataHookInterface):  # type: ignore[misc] # untyped outside of a build
    """Gives the README as the long description of the package."""

    PLUGIN_NAME = "custom"

    def update(self, metadata: dict[str, Any]) -> None:
        """Put the README in, with absolute links where an address is given."""
        text = Path(self.root, "README.md").read_text(encoding="utf-8")
        address = os.environ.get(ADDRESS, "")
        if address:
            text = LINK.sub(rf"\g<1>{address.rstrip('/')}/\g<2>", text)
        metadata["readme"] = {"content-type": "text/markdown", "text": text}
