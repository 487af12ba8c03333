"""Results of evaluations, found again by what they read (see `reads`) or made."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Generic, Protocol, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.evaluate.cache import HasBytes
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.evaluate.keeping import Arrays, Keeper
from windsock.core.evaluate.nodes import Node
from windsock.core.evaluate.reads import Answer, Question, Reads, answers

Value = TypeVar("Value", bound=HasBytes)
Held = TypeVar("Held", bound=np.generic)


@dataclass(frozen=True, eq=False)
class Outcome(Generic[Value]):
    """A result, the key that it has by what it read, and what it read."""

    value: Value
    key: str
    reads: Reads

    @property
    def nbytes(self) -> int:
        return self.value.nbytes + 64 * len(self.reads.answers)


class Shelf(Protocol):
    """Where results are put under their keys."""

    def get(self, key: str) -> HasBytes | None: ...

    def put(self, key: str, result: HasBytes) -> None: ...


class Latest:
    """Only the last result of each evaluation: for what is walked through tick by tick. nbytes: about what it will take."""

    def __init__(self, nbytes: int = 0) -> None:
        self.nbytes = nbytes
        self._kept: dict[str, tuple[str, HasBytes]] = {}

    def at(self, name: str) -> Shelf:
        """The place of one evaluation."""
        return _Place(self._kept, name)


@dataclass(frozen=True)
class _Place:
    kept: dict[str, tuple[str, HasBytes]]
    name: str

    def get(self, key: str) -> HasBytes | None:
        found = self.kept.get(self.name)
        return found[1] if found is not None and found[0] == key else None

    def put(self, key: str, result: HasBytes) -> None:
        self.kept[self.name] = (key, result)


Said = tuple[dict[Question, object], str]
"""Questions with their answers, and the key that they make."""


class Results:
    """Gives results that were made before for the same reads, or makes them. Safe to use from several threads."""

    def __init__(self, keeper: Keeper) -> None:
        self.keeper = keeper
        self._traces = keeper.traces

    def immediate(
        self,
        name: str,
        answer: Answer,
        make: Callable[[Reads], Value],
        *,
        node: Node | None = None,
        latest: Latest | None = None,
    ) -> tuple[Outcome[Value], bool]:
        """A result of an evaluation, and whether it was there.

        name: of the evaluation. answer: answers its questions now. make: evaluates, and notes what it reads. node: under
        which name it is counted. latest: where it is kept if only the last one is.
        """
        with self.keeper.counting(node, "immediate") as counted:
            shelf = self.keeper.cache if latest is None else latest.at(name)
            found, keys = self._found(name, answer, shelf)
            counted.reused = found is not None
            if found is None:
                reads = Reads()
                value = make(reads)
                # Most often it has read just what was tried.
                tried = next((key for now, key in keys if list(now.items()) == list(reads.answers.items())), "")
                found = Outcome(value, tried or key_of(name, reads.answers), reads)
                self._traces.learn(name, reads.answers)
                shelf.put(found.key, found)
            counted.held = found.value.nbytes
        return cast(Outcome[Value], found), counted.reused

    def _found(self, name: str, answer: Answer, shelf: Shelf) -> tuple[Outcome[HasBytes] | None, list[Said]]:
        """A result that was made before, or None and under what it was looked for."""
        tried: list[Said] = []
        for questions in self._traces.of(name):
            now = answers(questions, answer)
            if now is None:
                continue
            key = key_of(name, now)
            kept = shelf.get(key)
            if isinstance(kept, Outcome):
                self._traces.learn(name, questions)
                return cast(Outcome[HasBytes], kept), tried
            tried.append((now, key))
        return None, tried

    def solved(
        self,
        name: str,
        answer: Answer,
        make: Callable[[Reads], Mapping[str, NDArray[Held]]],
        *,
        node: Node | None = None,
        stored: bool = True,
    ) -> Outcome[Arrays]:
        """What is solved once from the whole shot: in memory, else in the store, else made and put into both. node: under
        which it is counted. stored: whether it is put into the store."""
        with self.keeper.counting(node, "solved") as counted:
            found = self.found(name, answer)
            counted.reused = found is not None
            if found is None:
                read = Reads()
                arrays = cast(Mapping[str, NDArray[np.float64]], make(read))
                # What it read at moments of the shot counts as it is defined over the whole shot.
                reads = asked(read.definitions(), answer, read)
                found = Outcome(Arrays(arrays), key_of(name, reads.answers), reads)
                self.learn(name, reads.answers)
                self.keeper.keep(found.key, arrays, stored)
                if stored and any(question[0] == "content" for question in reads.answers):
                    self.keeper.keep(_mark(name, reads.answers), {"solved": np.ones(1)})
            counted.held = found.value.nbytes
        return found

    def found(self, name: str, answer: Answer) -> Outcome[Arrays] | None:
        """A solved result, if it is there."""
        for questions in self.lists(name):
            now = answers(questions, answer)
            if now is None:
                continue
            key = key_of(name, now)
            kept = self.keeper.stored(key)
            if kept is not None:
                reads = Reads()
                for question, said in now.items():
                    reads.note(question, said)
                return Outcome(Arrays(kept), key, reads)
        return None

    def was_solved(self, name: str, answer: Answer) -> bool:
        """Whether something was solved for the shot as it is, whatever the content of the part that it was solved from."""
        for questions in self.lists(name):
            if not any(one[0] == "content" for one in questions):
                return self.found(name, answer) is not None
            now = answers((one for one in questions if one[0] != "content"), answer)
            if now is not None and self.keeper.stored(_mark(name, now)) is not None:
                return True
        return False

    def lists(self, name: str) -> list[tuple[Question, ...]]:
        """The lists of questions that an evaluation over the whole shot has asked, here or in another process."""
        known = self._traces.of(name)
        if not known:
            for questions in reversed(self._stored_lists(name)):
                self._traces.learn(name, questions)
            known = self._traces.of(name)
        return known

    def learn(self, name: str, questions: Iterable[Question]) -> None:
        """Remember, for other processes too, what an evaluation over the whole shot has asked."""
        if self._traces.learn(name, questions):
            text = json.dumps(self._traces.of(name)).encode()
            self.keeper.keep_aside(_list_key(name), {"text": np.frombuffer(text, dtype=np.uint8)})

    def _stored_lists(self, name: str) -> list[tuple[Question, ...]]:
        kept = self.keeper.stored_aside(_list_key(name))
        if kept is None:
            return []
        return [tuple(_tuples(one) for one in questions) for questions in json.loads(kept["text"].tobytes())]  # pyright: ignore


def key_of(name: str, said: Mapping[Question, object]) -> str:
    """The key of a result: a hash of the evaluation's name, of its questions and of their answers."""
    return fingerprint(name, list(said.items()))


def asked(questions: list[Question], answer: Answer, local: Reads) -> Reads:
    """Questions with their answers. local: has those that only the evaluation itself can answer."""
    reads = Reads()
    for question in questions:
        reads.note(question, answer(question))
    for question, said in local.answers.items():
        if question[0] == "content":
            reads.note(question, said)
    return reads


def _mark(name: str, said: Mapping[Question, object]) -> str:
    return key_of(f"{name} solved", {question: answer for question, answer in said.items() if question[0] != "content"})


def _list_key(name: str) -> str:
    return fingerprint("questions of", name)


def _tuples(thing: object) -> Question:
    return tuple(_tuples(cast(object, one)) if isinstance(one, list) else one for one in cast(list[object], thing))
