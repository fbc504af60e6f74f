"""Numbers as people write them on a command line: 2, 2.5, 2,5, 2mm."""

from farrail.errors import BadInput, FarRailError


def number(text: str | float) -> float:
    """Return a number, its unit left out where it is millimetres.

    Raises:
        BadInput: it is none.
    """
    if not isinstance(text, str):
        # What is there when nothing is given.
        return float(text)
    written = text.strip().replace("−", "-")
    try:
        return float(written)
    except ValueError:
        pass
    from farrail.parts.origin import Origin
    from farrail.workbook.edits.shelf import parse_reading

    sign = -1.0 if written.startswith("-") else 1.0
    try:
        return sign * parse_reading(written.lstrip("-+"), Origin.MEASURED).value
    except FarRailError:
        raise BadInput("“{text}” is not a number; write one such as 2, 2.5, 2,5 or 2mm.", text=text[:40]) from None
