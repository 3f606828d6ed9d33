"""One long piece of work in several processes, where the machine has the cores and whoever runs the core allows it.

A command of the command line and the worker are alone in their processes, so they open lanes; a server, whose threads may hold
locks that a fork would keep for ever, does not. What is found is the same, and in the same order.
"""

import os
import sys
from collections.abc import Callable, Sequence
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.context import ForkProcess
from typing import TypeVar

T = TypeVar("T")
R = TypeVar("R")

# More lanes than this only ask for more memory.
_MOST = 4
_lanes = [1]


def open_lanes(many: int | None = None) -> None:
    """Allow so many lanes; without a number as many as there are cores for this process, where processes can be forked."""
    if many is None:
        many = min(len(os.sched_getaffinity(0)), _MOST) if sys.platform == "linux" else 1
    _lanes[0] = many


def lanes() -> int:
    """How many lanes there are."""
    return _lanes[0]


def in_lanes(work: Callable[[Sequence[T]], list[R]], items: Sequence[T], least: int = 1) -> list[R]:
    """`work` on all items, which gives one result for each: in this process and in others, each with at least so many of them,
    as cards are dealt. What is raised there is raised here."""
    many = max(min(lanes(), len(items) // least), 1)
    shares = [items[lane::many] for lane in range(many)]
    others = [_begun(work, share) for share in shares[1:]]
    try:
        parts = [work(shares[0]), *(_received(work, share, other) for share, other in zip(shares[1:], others, strict=True))]
    finally:
        for found, process in filter(None, others):
            found.close()
            process.kill()
            process.join()
    out: list[R] = [parts[0][0]] * len(items) if items else []
    for lane, part in enumerate(parts):
        out[lane::many] = part
    return out


# Where the other process tells what it found, and itself; None where there was no room for one.
Other = tuple[Connection, ForkProcess] | None


def _begun(work: Callable[[Sequence[T]], list[R]], share: Sequence[T]) -> Other:
    context = get_context("fork")
    found, told = context.Pipe(duplex=False)
    process = context.Process(target=_tell, args=(told, work, share), daemon=True)
    try:
        process.start()
    except OSError:
        found.close()
        return None
    finally:
        told.close()
    return found, process


def _tell(told: Connection, work: Callable[[Sequence[T]], list[R]], share: Sequence[T]) -> None:
    """In the other process: do the work there without lanes of its own, and say what was found or what was wrong."""
    open_lanes(1)
    try:
        said: tuple[list[R], Exception | None] = work(share), None
    except Exception as fault:
        said = [], fault
    told.send(said)


def _received(work: Callable[[Sequence[T]], list[R]], share: Sequence[T], other: Other) -> list[R]:
    """What the other process found; where there is none, or it was ended from outside, its share is done here."""
    if other is None:
        return work(share)
    try:
        out, fault = other[0].recv()
    except EOFError:
        return work(share)
    if fault is not None:
        raise fault
    return list(out)
