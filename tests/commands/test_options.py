"""What `./windsock start` is told is checked before anything is begun."""

from __future__ import annotations

import pytest

from windsock.commands.say import Trouble
from windsock.commands.start import start


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["--evaluators", "0"], "There may be 1 to 16 evaluators"),
        (["--evaluators", "17"], "There may be 1 to 16 evaluators"),
        (["--port", "0"], "A port lies between 1 and 65535"),
        (["--port", "70000"], "A port lies between 1 and 65535"),
    ],
)
def test_numbers_that_cannot_be_are_refused(words: list[str], says: str):
    with pytest.raises(Trouble, match=says) as refused:
        start(words)
    assert "Nothing was started" in str(refused.value)


@pytest.mark.parametrize("words", [["--evaluators", "many"], ["--often"]])
def test_words_that_it_does_not_know_are_refused(words: list[str], capsys: pytest.CaptureFixture[str]):
    with pytest.raises(SystemExit):
        start(words)
    assert words[0] in capsys.readouterr().err
