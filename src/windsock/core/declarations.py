"""How the things of a document are declared: once, with unit, range, default and meaning.

Schema, validation, forms, help and defaults all follow from these declarations.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Protocol, TypeVar

from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    GetCoreSchemaHandler,
    GetJsonSchemaHandler,
    JsonValue,
    StringConstraints,
)
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

Id = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]{0,39}$")]


@dataclass(frozen=True)
class Refers:
    """Says that an id is that of a thing in a collection of the shot, or of the recipe that it stands in."""

    to: Literal["items", "fields", "groups", "parts"]

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return handler(schema) | {"x-refers": self.to}


ItemId = Annotated[Id, Refers("items")]
FieldId = Annotated[Id, Refers("fields")]
GroupId = Annotated[Id, Refers("groups")]
PartId = Annotated[Id, Refers("parts")]
ContentHash = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
"""The SHA-256 of the bytes of an imported file."""
Name = Annotated[str, StringConstraints(min_length=1, max_length=80, pattern=r"^[^\x00-\x1f\x7f-\x9f\u2028\u2029]*$")]
"""One line without control characters."""
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$")]
"""An sRGB colour as #RRGGBB."""
Rank = Annotated[float, Field(ge=-1e9, le=1e9)]
"""The place in an order; ties are broken by id."""


OWN = "own"
"""Chosen for a setting that is none: the thing gets one of its own, as `begins` has it."""


def _with_words(schema: dict[str, JsonValue], kind: type[BaseModel]) -> None:
    if issubclass(kind, Declared) and (words := kind.in_words()):
        schema["x-kind"] = words


class Declared(BaseModel):
    """The base of every thing in a document: unknown keys, wrong types and non-finite numbers are refused."""

    model_config = ConfigDict(
        extra="forbid", strict=True, frozen=True, allow_inf_nan=False, json_schema_extra=_with_words
    )

    @classmethod
    def kind_name(cls) -> str:
        """The name of its kind among others, nothing where it has none."""
        declared = cls.model_fields.get("kind")
        return str(declared.default) if declared is not None else ""

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        """What people read of its kind: as what it is `called`, and more; nothing where it is not one of several kinds. What it
        does is its docstring."""
        return {}

    says: ClassVar[str] = ""
    """In a few words, what its kind is for, where it is chosen from a list."""

    wish: ClassVar[str] = ""
    """What someone wishes for who chooses its kind: those with the same wish stand together in a list."""

    begins: ClassVar[Mapping[str, JsonValue]] = {}
    """What a setting that may be none is at first, once the thing has one of its own."""

    def chosen(self, setting: str, value: JsonValue) -> dict[str, JsonValue]:
        """What its settings are to be where one of them is chosen from a list: that one, and what follows from it."""
        return {setting: self.begins[setting] if value == OWN and setting in self.begins else value}

    def between(self, setting: str, key: str, at: Callable[[object], object]) -> Mapping[str, JsonValue] | None:
        """What is put after a thing of one of its ordered collections: half way to the next one. at: gives what a parameter is
        now. None where nothing can be put there."""
        del setting, key, at
        return None

    def released(self, setting: str) -> dict[str, JsonValue]:
        """What its settings are to be where a thing that one of them refers to goes, and it can do without."""
        return {setting: None}


class HasRank(Protocol):
    """Anything that has a place in an order."""

    @property
    def rank(self) -> float: ...


Thing = TypeVar("Thing", bound=HasRank)
Value = TypeVar("Value")


def about(size: float, share: float) -> float:
    """A share of a size, of one digit."""
    return float(f"{size * share:.1g}")


def in_order(collection: Mapping[str, Thing]) -> list[tuple[str, Thing]]:
    """The things of an id-keyed collection, by rank, ties by id."""
    return sorted(collection.items(), key=lambda entry: (entry[1].rank, entry[0]))


@dataclass(frozen=True)
class Quantity:
    """What a parameter means and where it may lie. Put it in an `Annotated` beside the parameter's type.

    `drag` is the change for one pixel of a sideways drag. Bounds hold for constants and for every key, and for every
    component of a vector.
    """

    says: str
    unit: str = ""
    low: float = -1e6
    high: float = 1e6
    drag: float = 0.01
    whole: bool = False

    def __get_pydantic_core_schema__(self, source: object, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self._checked, handler(source))  # pyright: ignore[reportArgumentType]

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        declared = handler(schema)
        quantity = {"unit": self.unit, "low": self.low, "high": self.high, "drag": self.drag, "whole": self.whole}
        return {"allOf": [declared], "description": self.says, "x-quantity": quantity}

    def _checked(self, value: Value) -> Value:
        for number in _numbers(value):
            if not self.low <= number <= self.high:
                raise PydanticCustomError(
                    "out_of_range",
                    "{says}: {number} lies outside {low} to {high}",
                    {
                        "says": self.says,
                        "number": f"{number:,.12g}",
                        "low": f"{self.low:,.12g}",
                        "high": f"{self.high:,.12g} {self.unit}".rstrip(),
                    },
                )
        return value


class HasNumbers(Protocol):
    """A parameter value that is more than a number, such as keys."""

    def numbers(self) -> Iterable[float]: ...


def _numbers(value: object) -> Iterable[float]:
    if isinstance(value, (int, float)):
        return (value,)
    if value is None:
        return ()
    if isinstance(value, tuple):
        return value  # pyright: ignore[reportUnknownVariableType]
    if isinstance(value, BaseModel) and hasattr(value, "numbers"):
        return value.numbers()  # pyright: ignore
    raise TypeError(f"a quantity holds numbers, not {type(value).__name__}")
