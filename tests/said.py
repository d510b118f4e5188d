"""Messages of the core in words, for tests that read what a person would."""

from server.words import METRIC

__all__ = ["said", "said_all"]

said = METRIC.of
said_all = METRIC.all
