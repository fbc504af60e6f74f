"""Virtual X displays for tests that need a real window."""

import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager

import pytest


@contextmanager
def virtual_screen(size: str) -> Iterator[str]:
    """Start a display of its own, such as 1920x1080, and yield its name."""
    if shutil.which("Xvfb") is None:
        pytest.skip("Xvfb is not installed; ./far-rail test installs it")
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", "1", "-screen", "0", f"{size}x24", "-nolisten", "tcp"],
        stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    assert server.stdout is not None
    yield f":{server.stdout.readline().strip()}"
    server.terminate()
    server.wait()
    server.stdout.close()
