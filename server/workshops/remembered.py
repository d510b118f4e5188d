"""Answers remembered until what they rest on changes, by the process that worked them out (workshops).

The key is everything an answer rests on, written out: another figure anywhere makes another key, so nobody has to tell
when something changed, and no answer of yesterday is given today.
"""

import hashlib
import pickle
import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, TypeVar

__all__ = ["Remembered"]

Answer = TypeVar("Answer")


class Remembered(Generic[Answer]):
    """The newest so many answers of one kind; safe among threads, two of which may work one out side by side."""

    def __init__(self, most: int) -> None:
        """Keep ``most`` answers, the one longest not asked for forgotten first."""
        self._most = most
        self._answers: OrderedDict[bytes, Answer] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, about: object, work: Callable[[], Answer]) -> Answer:
        """Return the answer to ``about``, worked out when it is not known. ``about`` is plain values that can be
        pickled; what may change elsewhere has to be among them.
        """
        key = hashlib.blake2b(pickle.dumps(about, 5), digest_size=20).digest()
        with self._lock:
            if key in self._answers:
                self._answers.move_to_end(key)
                return self._answers[key]
        answer = work()
        with self._lock:
            self._answers[key] = answer
            while len(self._answers) > self._most:
                self._answers.popitem(last=False)
        return answer
