"""What a person chose once for every start: a word in a file of its own, read before anything heavy is loaded."""

from pathlib import Path


def saved(name: str) -> str:
    """Return the word kept under a name; "" where none is.

    Args:
        name: such as `language`.
    """
    try:
        return _file(name).read_text("utf-8").strip()
    except (OSError, UnicodeDecodeError):
        return ""


def save(name: str, word: str) -> None:
    """Keep a word for the next starts.

    Raises:
        OSError: it cannot be kept.
    """
    path = _file(name)
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(f"{word}\n", "utf-8")


def _file(name: str) -> Path:
    from platformdirs import user_config_path

    return user_config_path("far-rail") / name
