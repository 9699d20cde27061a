"""Units of others for rigs: those written by hand."""

from tests.exchange.conftest import hand_written

__all__ = ["hand_written"]
