"""What was worked out before: one policy for all that is remembered. Least recently used goes first, by count and by weight."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import RLock
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")
_all: list[Memo[object, object]] = []


class Memo(Generic[K, V]):
    """Values by key. `most`: how many are kept; `weigh` and `most_weight`: or how much they may weigh together. Safe among threads; two
    threads that miss at once both work, and the later one's value is kept."""

    def __init__(self, most: int, weigh: Callable[[V], float] | None = None, most_weight: float = float("inf")) -> None:
        self.most, self.weigh, self.most_weight = most, weigh, most_weight
        self.weight = 0.0
        self.made = 0  # how often something was worked out; benchmarks and tests read it
        self._kept: OrderedDict[K, V] = OrderedDict()
        self._lock = RLock()
        _all.append(self)  # type: ignore[arg-type]

    def __len__(self) -> int:
        return len(self._kept)

    def get(self, key: K) -> V | None:
        """What is remembered, or None."""
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
            return found

    def put(self, key: K, value: V) -> V:
        """Remember a value, and let go of what is too much."""
        with self._lock:
            old = self._kept.pop(key, None)
            if self.weigh is not None:
                self.weight += self.weigh(value) - (self.weigh(old) if old is not None else 0.0)
            self._kept[key] = value
            self.made += 1
            while len(self._kept) > 1 and (len(self._kept) > self.most or self.weight > self.most_weight):
                _, gone = self._kept.popitem(last=False)
                if self.weigh is not None:
                    self.weight -= self.weigh(gone)
            return value

    def make(self, key: K, work: Callable[[], V]) -> V:
        """What is remembered, or what `work` returns, remembered from then on."""
        found = self.get(key)
        return found if found is not None else self.put(key, work())

    def forget(self) -> None:
        """Drop everything (for measuring)."""
        with self._lock:
            self._kept.clear()
            self.weight = 0.0


class MemoOfThese(Generic[V]):
    """Values worked out of objects that are too large to be a key and are never changed: remembered for these very objects, with what else was asked."""

    def __init__(self, most: int) -> None:
        self._memo: Memo[tuple[Hashable, ...], tuple[tuple[object, ...], V]] = Memo(most)

    def make(self, these: tuple[object, ...], asked: Hashable, work: Callable[[], V]) -> V:
        """What is remembered, or what `work` returns, remembered from then on. The objects are kept as long, so that no other one has their place."""
        return self._memo.make((*map(id, these), asked), lambda: (these, work()))[1]

    @property
    def made(self) -> int:
        """How often something was worked out."""
        return self._memo.made

    def forget(self) -> None:
        """Drop everything (for measuring)."""
        self._memo.forget()


def forget_all() -> None:
    """Drop everything that anything remembers (for measuring)."""
    for memo in _all:
        memo.forget()
