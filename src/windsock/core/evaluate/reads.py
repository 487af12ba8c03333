"""What an evaluation reads, recorded as it is read and checked again before its result is used again.

These are the verifying traces of A. Mokhov, N. Mitchell and S. Peyton Jones, "Build Systems à la Carte" (2018), 4.2.2: as an
evaluation is handed nothing but answers to its questions, one whose questions would all be answered alike has the same
result. So nobody writes down what a result depends on.
"""

from __future__ import annotations

import inspect
from collections import OrderedDict
from collections.abc import Callable, Iterable, Iterator
from functools import cache
from threading import Lock
from typing import Any

from windsock.core.declarations import Declared
from windsock.core.fields.elements import Question
from windsock.core.timing.parameter import Moment

Answer = Callable[[Question], object]
"""Gives the answer to a question as plain data; raises KeyError where there is none, as when the thing is not there."""

MOST_NAMES, MOST_LISTS = 20_000, 8
"""Evaluations whose questions are remembered, and lists of questions of each."""

LOCAL = {"elements", "part", "content", "second", "subject", "finished", "model", "stretch", "front"}
"""Questions that say nothing of the document: what they ask after is made from what other questions ask after."""

STANDING = ("start", "frame", "defined", "same")
"""Before questions whose answers are the same at every moment: at the shot's first frame, at a frame, by the document."""


class Reads:
    """The questions of an evaluation with their answers, each once, in the order in which they were asked first.

    leaves: the questions that the document alone answers, those of results that were used included.
    """

    def __init__(self) -> None:
        self.answers: dict[Question, object] = {}
        self.leaves: dict[Question, None] = {}

    def note(self, question: Question, answer: object) -> None:
        """Record a question and its answer."""
        if question not in self.answers:
            self.answers[question] = answer
            self.leaves[question] = None

    def note_result(self, question: Question, key: str, leaves: Iterable[Question]) -> None:
        """Record a question whose answer is the key of another result. leaves: those of that result."""
        if question not in self.answers:
            self.answers[question] = key
            self.leaves.update(dict.fromkeys(leaves))

    def include(self, other: Reads, shift: Question = ()) -> None:
        """Record what another evaluation has read, within this one. shift: what its questions are put behind."""
        if not shift:
            for question, answer in other.answers.items():
                self.answers.setdefault(question, answer)
            self.leaves.update(other.leaves)
            return
        for question, answer in other.answers.items():
            self.answers.setdefault(_shifted(question, shift), answer)
        self.leaves.update(dict.fromkeys(behind(other.leaves, shift)))

    def without(self, name: str) -> Reads:
        """The same without the questions of one name, for one who has made what they ask after."""
        left = Reads()
        left.answers = {question: answer for question, answer in self.answers.items() if question[0] != name}
        left.leaves = {question: None for question in self.leaves if question[0] != name}
        return left

    def definitions(self) -> list[Question]:
        """Questions after all that the document says, over the whole shot, of what was read at one moment of it."""
        return list(dict.fromkeys(one for one in map(defined, self.leaves) if one is not None))


def defined(question: Question) -> Question | None:
    """The question after the definition, over the whole shot, of what a question asks after at a moment."""
    if question[0] == "then":
        return defined(question[2:])
    if question[0] in STANDING:
        return question
    return None if question[0] in LOCAL else ("defined", *question)


def behind(leaves: Iterable[Question], shift: Question) -> Iterator[Question]:
    """Leaves put behind something. What only the evaluation itself could answer is left out: what it is made from is there.

    What was read of a shape in a time of its own was not read at the moment that is put before it: of that, all that the document
    says counts.
    """
    read = [leaf for leaf in leaves if leaf[0] not in ("content", "part", "beside")]
    if shift[0] in ("start", "frame") and any(leaf[0] == "retimed" for leaf in read):
        return (one for one in map(defined, read) if one is not None)
    return (_shifted(leaf, shift) for leaf in read)


def _shifted(question: Question, shift: Question) -> Question:
    return question if question[0] == "elements" or question[0] in STANDING else (*shift, *question)


class Traces:
    """The lists of questions that evaluations have asked, by the name of the evaluation. Safe to use from several threads."""

    def __init__(self) -> None:
        self._lists: OrderedDict[str, list[tuple[Question, ...]]] = OrderedDict()
        self._lock = Lock()

    def of(self, name: str) -> list[tuple[Question, ...]]:
        """The lists of an evaluation, the one that was asked last first."""
        with self._lock:
            if name in self._lists:
                self._lists.move_to_end(name)
            return list(self._lists.get(name, ()))

    def learn(self, name: str, questions: Iterable[Question]) -> bool:
        """Remember a list of questions; whether it was not known."""
        listed = tuple(questions)
        with self._lock:
            known = self._lists.setdefault(name, [])
            self._lists.move_to_end(name)
            new = listed not in known
            if not new and known[0] is not listed:
                known.remove(listed)
            known.insert(0, listed)
            del known[MOST_LISTS:]
            while len(self._lists) > MOST_NAMES:
                self._lists.popitem(last=False)
            return new

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._lists.clear()


def answers(questions: Iterable[Question], answer: Answer) -> dict[Question, object] | None:
    """The answers to a list of questions now, or None where one has none."""
    found: dict[Question, object] = {}
    for question in questions:
        try:
            found[question] = answer(question)
        except KeyError:
            return None
    return found


class Settings:
    """A declaration as an evaluation of it sees it: each setting that is looked at is noted.

    at: the moment at which the settings count; a keyed one is the number or the vector that it is then, so that nothing
    can be read of its keys. Without a moment they are as they are declared.
    """

    def __init__(self, declared: Declared, note: Callable[[str], None], at: Moment | None) -> None:
        self._declared, self._note, self._at = declared, note, at
        if "kind" in type(declared).model_fields:
            # What is evaluated goes by the kind, even where no setting is looked at.
            note("kind")

    def __getattr__(self, name: str) -> object:
        """A setting, or what the class of the declaration has under a name, bound to these settings; what was found once
        is there as an attribute."""
        kind = type(self._declared)
        is_setting, found = _found_in(kind, name)
        if is_setting:
            self._note(name)
            value = getattr(self._declared, name)
            settled = self.__dict__[name] = value if self._at is None else self._at.settled(value)
            return settled
        return found.__get__(self, kind) if hasattr(found, "__get__") else found


@cache
def _found_in(kind: type[Declared], name: str) -> tuple[bool, Any]:
    """Whether a name of a declaration is a setting, and what it is if not."""
    return (True, None) if name in kind.model_fields else (False, inspect.getattr_static(kind, name))
