"""What is remembered: the least recently used goes first, by count and by weight."""

from __future__ import annotations

import threading
from random import Random

from rhombex.core.memo import Memo, forget_all


def test_the_least_recently_used_goes_first() -> None:
    m: Memo[str, int] = Memo(2)
    m.put("a", 1)
    m.put("b", 2)
    assert m.get("a") == 1  # used again
    m.put("c", 3)
    assert (m.get("a"), m.get("b"), m.get("c"), len(m)) == (1, None, 3, 2)


def test_weights_are_kept_under_their_limit_and_one_value_always_stays() -> None:
    m: Memo[str, bytes] = Memo(100, len, 10)
    for k in "abcd":
        m.put(k, b"x" * 4)
    assert (len(m), m.weight, m.get("d"), m.get("b")) == (2, 8, b"xxxx", None)
    m.put("big", b"x" * 50)
    assert (len(m), m.weight) == (1, 50)
    m.put("big", b"x")  # in its own place: the old weight goes
    assert (len(m), m.weight) == (1, 1)


def test_work_is_done_once_and_counted() -> None:
    m: Memo[int, list[int]] = Memo(4)
    assert m.make(1, lambda: [1]) is m.make(1, lambda: [2]) and m.made == 1
    forget_all()
    assert len(m) == 0 and m.make(1, lambda: [3]) == [3]


def test_many_threads_keep_count_and_weight_right() -> None:
    m: Memo[int, int] = Memo(50, float, 900)

    def use(seed: int) -> None:
        r = Random(seed)
        for _ in range(3000):
            k = r.randint(1, 120)
            assert m.make(k, lambda k=k: k) == k  # type: ignore[misc]

    threads = [threading.Thread(target=use, args=(s,)) for s in range(6)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert len(m) <= 50 and m.weight <= 900
    assert m.weight == sum(k for k in range(121) if m.get(k) is not None)
