"""What a check of a record complains of, said as this program says it: the checking library's own words are its own."""

from collections.abc import Callable, Mapping
from typing import Any

from farrail.language import say

Limits = Mapping[str, Any]
# By the library's type of error: what is said, from the limits that come with it.
_SAID: dict[str, Callable[[Limits], str]] = {
    "missing": lambda _: say("it is missing"),
    "extra_forbidden": lambda _: say("it is not known here"),
    "union_tag_invalid": lambda c: say(
        "the kind “{tag}” is not known; known are {expected}", tag=c["tag"], expected=c["expected_tags"]
    ),
    "union_tag_not_found": lambda _: say("it does not say what kind it is"),
    "finite_number": lambda _: say("the number must be finite"),
    "greater_than": lambda c: say("it must be above {limit:g}", limit=c["gt"]),
    "greater_than_equal": lambda c: say("it must be {limit:g} or more", limit=c["ge"]),
    "less_than": lambda c: say("it must be below {limit:g}", limit=c["lt"]),
    "less_than_equal": lambda c: say("it must be {limit:g} or less", limit=c["le"]),
    "string_too_long": lambda c: say("it may have {count} letters at most", count=c["max_length"]),
    "string_too_short": lambda c: (
        say("it must not be empty")
        if c["min_length"] == 1
        else say("it needs {count} letters at least", count=c["min_length"])
    ),
    "string_pattern_mismatch": lambda _: say("it is not written as it must be"),
    "too_long": lambda c: say("it may have {count} entries at most", count=c["max_length"]),
    "too_short": lambda c: (
        say("it must not be empty")
        if c["min_length"] == 1
        else say("it needs {count} entries at least", count=c["min_length"])
    ),
    "literal_error": lambda c: say("it must be {expected}", expected=c["expected"]),
    "enum": lambda c: say("it must be {expected}", expected=c["expected"]),
    **dict.fromkeys(("float_type", "float_parsing"), lambda _: say("it must be a number")),
    **dict.fromkeys(
        ("int_type", "int_parsing", "int_from_float", "int_parsing_size"), lambda _: say("it must be a whole number")
    ),
    **dict.fromkeys(("bool_type", "bool_parsing"), lambda _: say("it must be true or false")),
    **dict.fromkeys(("string_type", "string_unicode"), lambda _: say("it must be a text")),
    **dict.fromkeys(("list_type", "tuple_type", "iterable_type"), lambda _: say("it must be a list")),
    **dict.fromkeys(
        ("dict_type", "model_type", "model_attributes_type"), lambda _: say("it must be a record in braces")
    ),
}


def complaint(error: Mapping[str, Any]) -> str:
    """Return one complaint of a check as a phrase, without a full stop; it goes on inside a sentence.

    Args:
        error: one of the library's list: its `type`, its `msg`, and the limits in `ctx`.
    """
    said = _SAID.get(error["type"])
    if said is not None:
        return said(error.get("ctx", {}))
    # What a record's own check complains of is ours already.
    return str(error["msg"]).removeprefix("Value error, ")
