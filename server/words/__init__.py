"""Words: the messages of the core as sentences, in the workshop's units. Nothing is decided here."""

from server.words.render import IMPERIAL, METRIC, Words, day_words, is_message, words_of

__all__ = ["IMPERIAL", "METRIC", "Words", "day_words", "is_message", "words_of"]
