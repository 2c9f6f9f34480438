"""Caddet: a desktop workroom for drafting, truing and cutting one's own garment patterns."""

import os

__version__ = "0.1.0"

os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # there are none; looking for them slows every start
