"""Units of others for rigs: those written by hand, and an importer of foreign hand."""

from tests.exchange.conftest import hand_written, importer

__all__ = ["hand_written", "importer"]
