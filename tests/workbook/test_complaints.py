"""What the checking library complains of is said in our words, in the language in force."""

import json
from collections.abc import Iterator
from enum import StrEnum
from typing import Annotated, Any, Literal

import pytest
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from farrail import language
from farrail.complaints import complaint
from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import FarRailError
from farrail.workbook.reading import from_data, to_text


class Colour(StrEnum):
    RED = "red"


class Record(BaseModel):
    model_config = ConfigDict(extra="forbid")

    above: Annotated[float, Field(gt=0.0)] = 1.0
    least: Annotated[float, Field(ge=2.0)] = 2.0
    below: Annotated[float, Field(lt=5.0)] = 1.0
    most: Annotated[float, Field(le=5.5)] = 1.0
    ended: Annotated[float, Field(allow_inf_nan=False)] = 1.0
    whole: int = 1
    yes: bool = True
    text: Annotated[str, Field(max_length=3, min_length=1)] = "a"
    shape: Annotated[str, Field(pattern="^a+$")] = "a"
    some: Annotated[tuple[int, ...], Field(max_length=2)] = ()
    one: Literal["left"] = "left"
    colour: Colour = Colour.RED
    inner: Colour | None = None


CASES: tuple[tuple[dict[str, Any], str, str], ...] = (
    ({"above": 0}, "it must be above 0", "es muss über 0 liegen"),
    ({"least": 1.5}, "it must be 2 or more", "es muss 2 oder mehr sein"),
    ({"below": 5}, "it must be below 5", "es muss unter 5 liegen"),
    ({"most": 6}, "it must be 5.5 or less", "es darf höchstens 5,5 sein"),
    ({"ended": float("inf")}, "the number must be finite", "die Zahl muss endlich sein"),
    ({"above": "far"}, "it must be a number", "es muss eine Zahl sein"),
    ({"above": [1]}, "it must be a number", "es muss eine Zahl sein"),
    ({"whole": 1.5}, "it must be a whole number", "es muss eine ganze Zahl sein"),
    ({"whole": "x"}, "it must be a whole number", "es muss eine ganze Zahl sein"),
    ({"yes": "perhaps"}, "it must be true or false", "es muss true oder false sein"),
    ({"text": "abcd"}, "it may have 3 letters at most", "es darf höchstens 3 Zeichen haben"),
    ({"text": ""}, "it must not be empty", "es darf nicht leer sein"),
    ({"text": 3}, "it must be a text", "es muss ein Text sein"),
    ({"shape": "b"}, "it is not written as it must be", "es ist nicht so geschrieben, wie es sein muss"),
    ({"some": (1, 2, 3)}, "it may have 2 entries at most", "es darf höchstens 2 Einträge haben"),
    ({"some": 3}, "it must be a list", "es muss eine Liste sein"),
    ({"one": "right"}, "it must be 'left'", "es muss 'left' sein"),
    ({"colour": "blue"}, "it must be 'red'", "es muss 'red' sein"),
    ({"nobody": 1}, "it is not known here", "es ist hier nicht bekannt"),
)


@pytest.fixture
def german() -> Iterator[None]:
    language.choose("de")
    yield
    language.choose("en")


def said(data: dict[str, Any]) -> str:
    with pytest.raises(ValidationError) as caught:
        Record.model_validate(data)
    return complaint(caught.value.errors()[0])


@pytest.mark.parametrize(("data", "english", "_"), CASES)
def test_what_the_library_complains_of_is_said_in_our_words(data: dict[str, Any], english: str, _: str) -> None:
    assert said(data) == english


@pytest.mark.parametrize(("data", "_", "told"), CASES)
def test_and_in_the_language_in_force(german: None, data: dict[str, Any], _: str, told: str) -> None:
    assert said(data) == told


def test_a_broken_file_is_told_without_the_library_s_words() -> None:
    """Each number of the demo's file made a word, each text a number: all that is refused is shown in our words."""
    data = json.loads(to_text(demo_workbook()))
    told: list[str] = []
    for part in data["shelf"]:
        for key, value in list(part.items()):
            if key in ("kind", "id"):
                continue
            broken = {**part, key: 3 if isinstance(value, str) else "far away"}
            try:
                from_data({**data, "shelf": [broken]}, "mine.farrail.json")
            except FarRailError as error:
                told.append(str(error))
    assert len(told) > 50
    assert [text for text in told if "Input should" in text or "valid " in text] == []
